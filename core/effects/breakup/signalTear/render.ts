import { withinBorder } from '../../../pixels/buffers/border.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { hashed } from '../../../pixels/filters/noise.ts'
import { rendererOf } from '../../effect.ts'
import { signalTear } from './signalTear.ts'

const slots = { torn: new Slot() }

export const renderSignalTear = rendererOf(signalTear, {
  sampleRadius: () => Infinity,
  draw({ settings, scale, scratch, frame }, { data, region }) {
    const source = scratch.floats(slots.torn, data.length)
    source.set(data)
    const { width, height } = region
    const time = Math.floor(frame / settings.hold)
    const seed = settings.seed + 977 * time
    const slice = settings.height * scale
    const shift = settings.shift * scale
    const share = settings.slices
    const apart = settings.colours * scale
    const blocks = settings.blocks
    for (let y = 0; y < height; y++) {
      const k = Math.floor((region.y + y + 0.5) / slice)
      const torn = hashed(k, seed) < share
      const by = torn ? shift * (2 * hashed(k, seed, 1) - 1) : 0
      const split = torn ? apart * hashed(k, seed, 2) : 0
      for (let x = 0; x < width; x++) {
        const at = 4 * (y * width + x)
        // A lost block is six slices wide and shows what lies elsewhere in the picture.
        const column = Math.floor((region.x + x + 0.5) / (slice * 6))
        const lost = blocks > 0 && hashed(column, k, seed + 5) < blocks
        const [ox, oy] = lost
          ? [shift * 4 * (2 * hashed(column, k, seed + 6) - 1), slice * 6 * (2 * hashed(column, k, seed + 7) - 1)]
          : [by, 0]
        if (!torn && !lost) continue
        const row = withinBorder(Math.round(y + oy), height, 'mirrored') * width
        for (let c = 0; c < 3; c++) {
          const from = withinBorder(Math.round(x - ox + (1 - c) * split), width, 'mirrored')
          data[at + c] = source[4 * (row + from) + c]!
        }
      }
    }
  },
})
