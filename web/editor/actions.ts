import { useEventListener } from '@vueuse/core'
import { tinykeys } from 'tinykeys'
import { computed, onBeforeUnmount, ref, shallowReactive, watch } from 'vue'
import { keyBindings, ownKeys, type ShortcutName } from './shortcuts.ts'

export type Actions = Partial<Record<ShortcutName, () => void>>

const open = shallowReactive<Actions[]>([])
/** What the views that are open can be asked to do, under the names of their keys. */
export const actions = computed<Actions>(() => Object.assign({}, ...open) as Actions)
/** Whether all keys are shown. */
export const keysShown = ref(false)
/** Whether help is shown. */
export const helpShown = ref(false)
/** Whether anything can be asked for by its name. */
export const asking = ref(false)

/** While a component is there, what it can do is done by its keys, and by name. */
export function useActions(own: Actions): void {
  let walked = false
  useEventListener(window, 'keydown', (event) => event.key === 'Tab' && (walked = true), { capture: true })
  useEventListener(window, 'pointerdown', () => (walked = false), { capture: true })
  let stop = () => {}
  watch(
    ownKeys,
    () => {
      stop()
      stop = tinykeys(
        window,
        keyBindings(own, () => walked),
      )
    },
    { immediate: true, deep: true },
  )
  open.push(own)
  onBeforeUnmount(() => {
    stop()
    open.splice(open.indexOf(own), 1)
  })
}
