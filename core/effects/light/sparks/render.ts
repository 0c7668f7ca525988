import { boundsOf, type Rect } from '../../../geometry/rect.ts'
import { rendererOf } from '../../effect.ts'
import { alive, flierAt } from '../../shared/fliers.ts'
import { along, colourWay } from '../../shared/stops.ts'
import { sparks } from './sparks.ts'

/** How far around a spark its light is drawn, in sizes. */
const tail = 2.2

export const renderSparks = rendererOf(sparks, {
  bounds(context): Rect {
    const places = alive(context).flatMap((spark) => {
      const { x, y } = flierAt(spark, context, context.frame)
      const before = flierAt(spark, context, context.frame - 0.5)
      const pad = spark.size * tail + Math.hypot(x - before.x, y - before.y)
      return [x - pad, y - pad, x + pad, y + pad]
    })
    return boundsOf(
      places.map((v) => v * context.scale),
      2,
    )
  },
  draw(context, { data, region }) {
    const { settings, scale, frame } = context
    const way = colourWay(context, settings.young, settings.between, settings.old)
    const strength = settings.strength
    for (const spark of alive(context)) {
      const u = (frame - spark.born) / spark.life
      // Its own motion over half a frame makes the streak.
      const a = flierAt(spark, context, Math.max(spark.born, frame - 0.25))
      const b = flierAt(spark, context, frame + 0.25)
      const [ax, ay, bx, by] = [a.x * scale, a.y * scale, b.x * scale, b.y * scale]
      const sigma = Math.max(0.45, (spark.size / 2) * scale)
      const length = Math.hypot(bx - ax, by - ay)
      // The same light however small it is drawn and however far it smears.
      const full = (spark.size / 2) * scale
      const gain = (strength * (1 - u) * full * full) / (sigma * sigma) / (1 + length / (2.5 * sigma))
      const light = [0, 1, 2].map((c) => gain * along(way, u, c))
      const pad = sigma * 3
      const left = Math.max(0, Math.floor(Math.min(ax, bx) - pad - region.x))
      const right = Math.min(region.width, Math.ceil(Math.max(ax, bx) + pad - region.x))
      const top = Math.max(0, Math.floor(Math.min(ay, by) - pad - region.y))
      const bottom = Math.min(region.height, Math.ceil(Math.max(ay, by) + pad - region.y))
      const [dx, dy] = [bx - ax, by - ay]
      const size = dx * dx + dy * dy
      for (let y = top; y < bottom; y++)
        for (let x = left; x < right; x++) {
          const [px, py] = [region.x + x + 0.5 - ax, region.y + y + 0.5 - ay]
          const t = size > 1e-6 ? Math.max(0, Math.min(1, (px * dx + py * dy) / size)) : 0
          const away = (px - t * dx) ** 2 + (py - t * dy) ** 2
          const amount = Math.exp(-away / (2 * sigma * sigma))
          if (amount < 0.01) continue
          const at = 4 * (y * region.width + x)
          for (let c = 0; c < 3; c++) data[at + c]! += amount * light[c]!
        }
    }
  },
})
