import { Slot } from '../../../pixels/buffers/scratch.ts'
import { rendererOf } from '../../effect.ts'
import { blurCover, mix, ramp } from '../../shared/tools.ts'
import { changeMask } from './changeMask.ts'

const slots = { changeMask: new Slot() }

export const renderChangeMask = rendererOf(changeMask, {
  sampleRadius: ({ settings, scale }) => 2 * settings.soften * scale + 2,
  needs: (settings, frame) => [{ media: '', frame: Math.max(0, frame - Math.round(settings.ago)) }],
  draw(context, { data, region }) {
    const { settings, scale, scratch, frame } = context
    const before = context.picture({ media: '', frame: Math.max(0, frame - Math.round(settings.ago)) })
    if (!before) return
    const mask = scratch.floats(slots.changeMask, region.width * region.height)
    const threshold = settings.threshold
    for (let y = 0, i = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++, i++) {
        const at =
          4 * (Math.min(before.height - 1, region.y + y) * before.width + Math.min(before.width - 1, region.x + x))
        let most = 0
        for (let c = 0; c < 3; c++)
          most = Math.max(most, Math.abs(Math.sqrt(Math.max(0, data[4 * i + c]!)) - Math.sqrt(before.data[at + c]!)))
        mask[i] = ramp(threshold, 2 * threshold + 0.02, most)
      }
    blurCover(mask, region.width, region.height, (settings.soften / 2) * scale, scratch)
    const { shows, strength } = settings
    const tint = context.colour(settings.tint)
    for (let i = 0; i < mask.length; i++)
      for (let c = 0; c < 3; c++) {
        const v = data[4 * i + c]!
        data[4 * i + c] =
          shows === 'mask' ? mask[i]! : mix(shows === 'only' ? 0 : v, v + (0.2 + v) * strength * tint[c]!, mask[i]!)
      }
  },
})
