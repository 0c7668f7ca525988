import { inflate, intersect, isEmpty, type Rect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { signedDistance } from '../../../pixels/filters/distance.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { along, colourWay } from '../../shared/stops.ts'
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
    const half = (settings.width / 2) * scale
    const away = settings.away * scale
    const lies = settings.lies
    const middle = lies === 'outside' ? half + away : lies === 'inside' ? -half - away : away
    const soft = Math.max(1, settings.soften * scale)
    const distance = signedDistance(
      { data: cover, width: near.width, height: near.height },
      scratch,
      slots.outlineDistance,
      Math.abs(middle) + half + soft,
    )
    const { light, runs } = settings
    const tint = context.colour(settings.tint).map((v) => v * light)
    const way = colourWay(context, settings.tint, settings.between, settings.second)
    const place = placeOn(context)
    for (let y = 0, i = 0; y < near.height; y++) {
      let to = 4 * ((near.y + y - region.y) * region.width + near.x - region.x)
      for (let x = 0; x < near.width; x++, i++, to += 4) {
        const share = clip((half - Math.abs(distance[i]! - middle)) / soft + 0.5)
        if (share === 0) continue
        if (runs === 'one') for (let c = 0; c < 3; c++) data[to + c] = tint[c]! * share
        else {
          const u = runs === 'across' ? 0.5 + (distance[i]! - middle) / (2 * half) : place(near.x + x, near.y + y)
          for (let c = 0; c < 3; c++) data[to + c] = along(way, u, c) * light * share
        }
        data[to + 3] = share
      }
    }
  },
})

/** Where a pixel lies on the way around what is outlined: 0 in the way of the angle, 1 opposite of it, on both sides alike. */
function placeOn(context: ContextOf<typeof outlineLine>): (x: number, y: number) => number {
  const { x, y, width, height } = context.regionBounds()
  const [mx, my] = [x + width / 2, y + height / 2]
  const from = (context.settings.angle * Math.PI) / 180
  return (px, py) => Math.acos(Math.cos(Math.atan2(py + 0.5 - my, px + 0.5 - mx) - from)) / Math.PI
}

function boundsOfLine(context: ContextOf<typeof outlineLine>): Rect {
  const bounds = context.regionBounds()
  const { settings, scale } = context
  const far = settings.width + settings.away + settings.soften + 2
  return isEmpty(bounds) ? bounds : inflate(bounds, far * scale)
}
