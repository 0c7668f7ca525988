import { inflate, intersect, isEmpty, type Rect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { signedDistance } from '../../../pixels/filters/distance.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { clip } from '../../shared/tools.ts'
import { outlineLine } from './outlineLine.ts'

const slots = { outlineCover: new Slot(), outlineDistance: new Slot() }

export const renderOutlineLine = rendererOf(outlineLine, {
  bounds: boundsOfLine,
  draw(context, { data, region }) {
    const { settings, scale, scratch } = context
    // Distances are dear: only about what is outlined.
    const near = intersect(region, boundsOfLine(context))
    if (isEmpty(near)) return
    const cover = context.region(near, slots.outlineCover)
    const distance = signedDistance(
      { data: cover, width: near.width, height: near.height },
      scratch,
      slots.outlineDistance,
    )
    const half = (settings.width / 2) * scale
    const away = settings.away * scale
    const lies = settings.lies
    const middle = lies === 'outside' ? half + away : lies === 'inside' ? -half - away : away
    const soft = Math.max(1, settings.soften * scale)
    const light = settings.light
    const tint = context.colour(settings.tint).map((v) => v * light)
    for (let y = 0, i = 0; y < near.height; y++) {
      let to = 4 * ((near.y + y - region.y) * region.width + near.x - region.x)
      for (let x = 0; x < near.width; x++, i++, to += 4) {
        const share = clip((half - Math.abs(distance[i]! - middle)) / soft + 0.5)
        if (share === 0) continue
        for (let c = 0; c < 3; c++) data[to + c] = tint[c]! * share
        data[to + 3] = share
      }
    }
  },
})

function boundsOfLine(context: ContextOf<typeof outlineLine>): Rect {
  const bounds = context.regionBounds()
  const { settings, scale } = context
  const far = settings.width + settings.away + settings.soften + 2
  return isEmpty(bounds) ? bounds : inflate(bounds, far * scale)
}
