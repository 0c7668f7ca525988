import { isNear } from '../../geometry/path.ts'
import { boundsOf } from '../../geometry/rect.ts'
import { hashed, noise1 } from '../../pixels/filters/noise.ts'
import { rodReach } from '../../shapes/kinds/rod.ts'
import { adding, centreOf, edgeOf } from '../../shapes/traced.ts'
import type { EffectContext } from '../effect.ts'
import { mix } from './tools.ts'

/** What is born of a traced shape and flies on by itself. Full-size pixels and frames. */
export interface Flier {
  x: number
  y: number
  vx: number
  vy: number
  born: number
  life: number
  size: number
  seed: number
}

interface FlierContext extends EffectContext<unknown> {
  settings: {
    from: 'edge' | 'inside' | 'tip' | 'contact'
    /** Whom it has to touch, for contacts. */
    other?: string
    /** New ones a frame; at a contact eight times as many at once. */
    rate: number
    life: number
    size: number
    speed: number
    inherit: number
    gravity: number
    drag: number
    wander?: number
    seed: number
    most: number
  }
}

/** Every one that is alive at the frame; the same whatever was looked at before. */
export function alive(context: FlierContext): Flier[] {
  const { settings, frame, parts } = context
  const { seed, life, from } = settings
  const out: Flier[] = []
  const most = settings.most
  const contacts = from === 'contact' ? context.contacts(context.target, settings.other ?? '') : []
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

/** Where one is at an age, under gravity and a drag that grows with its speed (linear drag, in closed form). */
export function flight(
  { x, y, vx, vy }: Pick<Flier, 'x' | 'y' | 'vx' | 'vy'>,
  age: number,
  gravity: number,
  drag: number,
): { x: number; y: number } {
  if (drag < 1e-4) return { x: x + vx * age, y: y + vy * age + (gravity * age * age) / 2 }
  const gone = 1 - Math.exp(-drag * age)
  const end = gravity / drag
  return { x: x + (vx * gone) / drag, y: y + ((vy - end) * gone) / drag + end * age }
}

/** Where one is at a time, in full-size pixels. */
export function flierAt(flier: Flier, context: FlierContext, time: number): { x: number; y: number } {
  const { settings } = context
  const age = Math.max(0, time - flier.born)
  const place = flight(flier, age, settings.gravity, settings.drag)
  const wander = (settings.wander ?? 0) * Math.min(1, age / 12)
  if (!wander) return place
  const drift = (k: number) => wander * (2 * noise1(time / 14 + hashed(flier.seed, k) * 100, flier.seed + k) - 1)
  return { x: place.x + drift(1), y: place.y + drift(2) }
}
