import { Slot } from '../../../pixels/buffers/scratch.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { clip, ramp } from '../../shared/tools.ts'
import { frame } from './frame.ts'

const slots = { tint: new Slot(), covered: new Slot(), columns: new Slot(), corners: new Slot() }

/** Steps of the table of how dark corners are: less than a tenth of a level apart. */
const steps = 8192

/** What lies beyond the bars, and part of what lies in the corners, is laid over with one colour. */
export const renderFrameOf = rendererOf(frame, {
  draw({ settings, size, scratch, colour }, { data, region }) {
    const { width, height } = size
    const { shape, corners, begins } = settings
    const [halfWidth, halfHeight] = [Math.min(width, height * shape) / 2, Math.min(height, width / shape) / 2]
    /** Share of a pixel that lies between the bars, by its middle's distance from the picture's. */
    const seen = (from: number, half: number) => clip(half - Math.abs(from) + 0.5)
    const tint = scratch.floats(slots.tint, 4 * region.width)
    const columns = scratch.floats(slots.columns, region.width)
    const covered = scratch.floats(slots.covered, region.width)
    const own = [...colour(settings.colour), 1]
    for (let x = 0; x < region.width; x++) {
      tint.set(own, 4 * x)
      columns[x] = seen(region.x + x + 0.5 - width / 2, halfWidth)
    }
    // By the square of the distance from the middle, up to the farthest corner of the picture itself.
    const reach = Math.hypot(halfWidth, halfHeight)
    const farthest = Math.hypot(width, height) / 2
    const kept = scratch.floats(slots.corners, steps + 1)
    for (let k = 0; k <= steps; k++)
      kept[k] = 1 - corners * ramp(begins, Math.max(begins + 1e-3, 1), (farthest * Math.sqrt(k / steps)) / reach)
    const perSquare = steps / farthest ** 2
    for (let y = 0; y < region.height; y++) {
      const dy = region.y + y + 0.5 - height / 2
      const row = seen(dy, halfHeight)
      const from = region.x + 0.5 - width / 2
      // Within the bars and the circle where the corners begin the picture stays as it is.
      const clear = Math.min(halfWidth - 0.5, row < 1 ? 0 : Math.sqrt(Math.max(0, (begins * reach) ** 2 - dy * dy)))
      const left = Math.max(0, Math.min(region.width, Math.ceil(-clear - from)))
      const right = Math.max(left, Math.min(region.width, Math.floor(clear - from) + 1))
      for (const [x0, x1] of [
        [0, left],
        [right, region.width],
      ] as const) {
        for (let x = x0; x < x1; x++) {
          const dx = from + x
          covered[x] = 1 - row * columns[x]! * kept[Math.min(steps, ((dx * dx + dy * dy) * perSquare + 0.5) | 0)]!
        }
        const to = span(data, 4 * (y * region.width + x0))
        scratch.kernels.layRow(true, span(tint), to, x1 - x0, 1, span(covered, x0))
      }
    }
  },
})
