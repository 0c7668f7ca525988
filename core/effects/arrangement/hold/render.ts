import { type PictureNeed, rendererOf, type SettingsOfKind } from '../../effect.ts'
import { hold } from './hold.ts'

const heldAt = (settings: SettingsOfKind<typeof hold>, frame: number): PictureNeed => {
  const step = Math.round(settings.step)
  return { media: '', frame: step > 0 ? frame - (frame % step) : Math.round(settings.at), made: true }
}

export const renderHold = rendererOf(hold, {
  sampleRadius: () => 0,
  needs: (settings, frame) => [heldAt(settings, frame)],
  draw(context, { data, region }) {
    const held = context.picture(heldAt(context.settings, context.frame))
    if (!held) return
    for (let y = 0; y < region.height; y++) {
      const from = 4 * ((region.y + y) * held.width + region.x)
      data.set(held.data.subarray(from, from + 4 * region.width), 4 * y * region.width)
    }
  },
})
