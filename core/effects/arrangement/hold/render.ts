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
    context.eachRow(heldAt(context.settings, context.frame), region, (row, y) =>
      data.set(row.data.subarray(row.at, row.at + 4 * region.width), 4 * y * region.width),
    )
  },
})
