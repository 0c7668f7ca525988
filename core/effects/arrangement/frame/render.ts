import { Slot } from '../../../pixels/buffers/scratch.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { clip, ramp } from '../../shared/tools.ts'
import { frame } from './frame.ts'

const slots = { bar: new Slot(), corners: new Slot() }

/** Steps of the table of how dark corners are, straight between them: less than a tenth of a level off. */
const steps = 1024

/** What lies beyond the bars, and part of what lies in the corners, is laid over with one colour. */
export const renderFrameOf = rendererOf(frame, {
  draw({ settings, size, scratch, colour }, { data, region }) {
    const { width, height } = size
    const { shape, corners, begins } = settings
    const { kernels } = scratch
    const [halfWidth, halfHeight] = [Math.min(width, height * shape) / 2, Math.min(height, width / shape) / 2]
    const [red, green, blue] = colour(settings.colour)
    /** Share of a pixel that lies beyond the bars' edge, by how far its middle is from the picture's. */
    const beyond = (from: number, half: number) => 1 - clip(half - Math.abs(from) + 0.5)
    const bar = scratch.floats(slots.bar, 4 * region.width)
    for (let x = 0; x < region.width; x++) bar.set([red, green, blue, 1], 4 * x)
    // How dark by the distance from the middle, up to the farthest corner of the picture itself.
    const farthest = Math.hypot(width, height) / 2
    const reach = Math.hypot(halfWidth, halfHeight)
    const dark = scratch.floats(slots.corners, 4 * (steps + 2))
    for (let k = 0; k < steps + 2; k++) {
      const share = corners * ramp(begins, Math.max(begins + 1e-3, 1), (farthest * k) / steps / reach)
      dark.set([red * share, green * share, blue * share, share], 4 * k)
    }
    const left = region.x + 0.5 - width / 2
    for (let y = 0; y < region.height; y++) {
      const dy = region.y + y + 0.5 - height / 2
      const row = 4 * y * region.width
      const hidden = beyond(dy, halfHeight)
      if (hidden === 1) {
        data.set(bar, row)
        continue
      }
      // Within the circle where the corners begin the picture stays as it is.
      const clear = corners > 0 ? Math.sqrt(Math.max(0, (begins * reach) ** 2 - dy * dy)) : Infinity
      const from = Math.max(0, Math.min(region.width, Math.ceil(-clear - left)))
      const to = Math.max(from, Math.min(region.width, Math.floor(clear - left) + 1))
      kernels.layRound(dark, steps, steps / farthest, { x: left, y: dy }, span(data, row), from)
      kernels.layRound(
        ...([dark, steps, steps / farthest, { x: left + to, y: dy }] as const),
        ...([span(data, row + 4 * to), region.width - to] as const),
      )
      if (hidden > 0) kernels.layRow(true, span(bar), span(data, row), region.width, hidden, null)
      // From the sides inward, as far as the bars reach.
      for (const way of [1, -1]) {
        for (let x = way > 0 ? 0 : region.width - 1; x >= 0 && x < region.width; x += way) {
          const share = beyond(left + x, halfWidth)
          if (share === 0) break
          kernels.layRow(true, span(bar), span(data, row + 4 * x), 1, share, null)
        }
      }
    }
  },
})
