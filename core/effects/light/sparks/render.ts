import { isNear } from '../../../geometry/path.ts'
import { boundsOf, type Rect } from '../../../geometry/rect.ts'
import { hashed, noise1 } from '../../../pixels/filters/noise.ts'
import { rodReach } from '../../../shapes/kinds/rod.ts'
import { adding, centreOf, edgeOf } from '../../../shapes/traced.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { mix } from '../../shared/tools.ts'
import { sparks } from './sparks.ts'

interface Spark {
  x: number
  y: number
  vx: number
  vy: number
  born: number
  life: number
  size: number
  seed: number
}

/** How far around a spark its light is drawn, in sizes. */
const tail = 2.2

export const renderSparks = rendererOf(sparks, {
  bounds(context): Rect {
    const places = alive(context).flatMap((spark) => {
      const { x, y } = placeOf(spark, context, context.frame)
      const before = placeOf(spark, context, context.frame - 0.5)
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
    const young = context.colour(settings.young)
    const old = context.colour(settings.old)
    const strength = settings.strength
    for (const spark of alive(context)) {
      const u = (frame - spark.born) / spark.life
      // Its own motion over half a frame makes the streak.
      const a = placeOf(spark, context, Math.max(spark.born, frame - 0.25))
      const b = placeOf(spark, context, frame + 0.25)
      const [ax, ay, bx, by] = [a.x * scale, a.y * scale, b.x * scale, b.y * scale]
      const sigma = Math.max(0.45, (spark.size / 2) * scale)
      const length = Math.hypot(bx - ax, by - ay)
      // The same light however small it is drawn and however far it smears.
      const full = (spark.size / 2) * scale
      const gain = (strength * (1 - u) * full * full) / (sigma * sigma) / (1 + length / (2.5 * sigma))
      const light = [0, 1, 2].map((c) => gain * mix(young[c]!, old[c]!, u))
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

/** Every spark that is alive at the frame; the same whatever was looked at before. */
function alive(context: ContextOf<typeof sparks>): Spark[] {
  const { settings, frame, parts } = context
  const { seed, life, from } = settings
  const out: Spark[] = []
  const most = settings.most
  const contacts = from === 'contact' ? context.contacts(context.target, settings.other) : []
  const parent = adding(parts)
  for (let then = Math.ceil(frame - life * 1.35); then <= frame && out.length < most; then++) {
    const contact = contacts.find((one) => one.frame === then)
    const count =
      from === 'contact' ? (contact ? 8 * settings.rate : 0) : Math.floor(settings.rate + hashed(then, seed, 1))
    for (let i = 0; i < count && out.length < most; i++) {
      const chance = (k: number) => hashed(then * 4096 + i, seed, k)
      const born = contact ? then : then - 1 + chance(2)
      const own = life * (0.67 + 0.66 * chance(3))
      if (born > frame || frame - born >= own) continue
      const place = contact ? { x: contact.x, y: contact.y } : birthPlace(parent, from, born, chance)
      if (!place) continue
      const [before, after] = [centreOf(parts, born - 0.5), centreOf(parts, born + 0.5)]
      const moved = before && after ? [after.x - before.x, after.y - before.y] : [0, 0]
      const angle = 2 * Math.PI * chance(4)
      // Even over the disc, so that they do not make a ring.
      const speed = settings.speed * Math.sqrt(chance(5)) * (contact ? 1.6 : 1)
      const inherit = settings.inherit
      out.push({
        ...place,
        vx: Math.cos(angle) * speed + moved[0]! * inherit,
        vy: Math.sin(angle) * speed + moved[1]! * inherit,
        ...{ born, life: own, size: settings.size * (0.5 + chance(6)), seed: then * 131 + i },
      })
    }
  }
  return out
}

function birthPlace(
  parts: ReturnType<typeof adding>,
  from: string,
  time: number,
  chance: (k: number) => number,
): { x: number; y: number } | null {
  const there = parts.filter((part) => part.at(time))
  const part = there[Math.floor(chance(7) * there.length)]
  if (!part) return null
  const points = part.at(time)!
  if (part.kind === 'rod' && from !== 'inside') {
    const reach = rodReach(part.settings)
    const length = Math.hypot(points[2]! - points[0]!, points[3]! - points[1]!) || 1
    const u = from === 'tip' ? 1 + reach / length : chance(8) * (1 + reach / length)
    return { x: mix(points[0]!, points[2]!, u), y: mix(points[1]!, points[3]!, u) }
  }
  const edge = edgeOf(part, time)!
  if (from === 'edge' || from === 'tip') return alongEdge(edge, chance(8))
  const box = boundsOf(edge)
  for (let k = 0; k < 12; k++) {
    const [x, y] = [box.x + box.width * chance(10 + 2 * k), box.y + box.height * chance(11 + 2 * k)]
    if (isNear(edge, x, y, 0)) return { x, y }
  }
  return alongEdge(edge, chance(8))
}

/** The place at a share of a polygon's way around. */
function alongEdge(edge: number[], share: number): { x: number; y: number } {
  const n = edge.length / 2
  const lengths = Array.from({ length: n }, (_, i) => {
    const j = (i + 1) % n
    return Math.hypot(edge[2 * j]! - edge[2 * i]!, edge[2 * j + 1]! - edge[2 * i + 1]!)
  })
  let left = share * lengths.reduce((a, b) => a + b, 0)
  for (let i = 0; i < n; i++) {
    if (left <= lengths[i]! || i === n - 1) {
      const j = (i + 1) % n
      const u = lengths[i] ? left / lengths[i]! : 0
      return { x: mix(edge[2 * i]!, edge[2 * j]!, u), y: mix(edge[2 * i + 1]!, edge[2 * j + 1]!, u) }
    }
    left -= lengths[i]!
  }
  return { x: edge[0]!, y: edge[1]! }
}

/** Where a spark is at an age, under gravity and a drag that grows with its speed (linear drag, in closed form). */
export function flight(
  { x, y, vx, vy }: Pick<Spark, 'x' | 'y' | 'vx' | 'vy'>,
  age: number,
  gravity: number,
  drag: number,
): { x: number; y: number } {
  if (drag < 1e-4) return { x: x + vx * age, y: y + vy * age + (gravity * age * age) / 2 }
  const gone = 1 - Math.exp(-drag * age)
  const end = gravity / drag
  return { x: x + (vx * gone) / drag, y: y + ((vy - end) * gone) / drag + end * age }
}

function placeOf(spark: Spark, context: ContextOf<typeof sparks>, time: number): { x: number; y: number } {
  const { settings } = context
  const age = Math.max(0, time - spark.born)
  const place = flight(spark, age, settings.gravity, settings.drag)
  const wander = settings.wander * Math.min(1, age / 12)
  if (!wander) return place
  const drift = (k: number) => wander * (2 * noise1(time / 14 + hashed(spark.seed, k) * 100, spark.seed + k) - 1)
  return { x: place.x + drift(1), y: place.y + drift(2) }
}
