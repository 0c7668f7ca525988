import { say } from '#core/say.ts'
import type { useViewing } from '../editor/viewing.ts'
import type { MenuEntry } from '../ui/MenuButton.vue'

/** The menu entry that shows a part or member alone, or everybody again. */
export const alone = (viewing: ReturnType<typeof useViewing>, id: string): MenuEntry => ({
  label: viewing.solo === id ? say`Show all again` : say`Show alone`,
  run: () => void (viewing.solo = viewing.solo === id ? '' : id),
})
