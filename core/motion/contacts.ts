import { reachedTip } from '../shapes/rod.ts'
import { adding, edgeOf, type TracedPart } from '../shapes/traced.ts'

/** Two members coming together. */
export interface Contact {
  /** The frame on which they first touch. */
  frame: number
  /** Where, in plate pixels. */
  x: number
  y: number
  /** How fast the nearest places came towards each other before, in pixels a frame. */
  speed: number
}

/** What touches: a rod's axis as far as its blade reaches, with half its width around it, or the edge of a shape. */
interface Body {
  /** Flat list of places. */
  line: readonly number[]
  closed: boolean
  half: number
}

interface Nearest {
  distance: number
  x: number
  y: number
}

/** Steps a frame: between two frames a fast prop passes right through another. */
const steps = 4

/**
 * Contacts of two members over a shot of `length` frames, found by geometry: the moments at which the distance of
 * their nearest shapes falls to nothing after having been more.
 */
export function contactsOf(one: readonly TracedPart[], other: readonly TracedPart[], length: number): Contact[] {
  const out: Contact[] = []
  let before: Nearest | null = null
  for (let i = 0; i <= (length - 1) * steps; i++) {
    const time = i / steps
    const now = nearest(bodies(one, time), bodies(other, time))
    if (now && before && now.distance <= 0 && before.distance > 0) {
      const frame = Math.ceil(time)
      // Touching goes on for a moment: the same contact is not counted again.
      if (!out.length || frame - out.at(-1)!.frame > 1)
        out.push({ frame, x: now.x, y: now.y, speed: before.distance * steps })
    }
    before = now
  }
  return out
}

/** Distance of two members at a time, in pixels; 0 or less while they touch, null while one of them is not there. */
export function distanceAt(one: readonly TracedPart[], other: readonly TracedPart[], time: number): number | null {
  return nearest(bodies(one, time), bodies(other, time))?.distance ?? null
}

function bodies(parts: readonly TracedPart[], time: number): Body[] {
  return adding(parts).flatMap((part): Body[] => {
    if (part.kind !== 'rod') {
      const edge = edgeOf(part, time)
      return edge ? [{ line: edge, closed: true, half: 0 }] : []
    }
    const points = part.at(time)
    if (!points) return []
    const { widthHeel, widthTip, reach } = part.settings
    const half = (Number(widthHeel ?? 8) + Number(widthTip ?? 8)) / 4
    return [{ line: [points[0]!, points[1]!, ...reachedTip(points, Number(reach ?? 0))], closed: false, half }]
  })
}

function nearest(one: Body[], other: Body[]): Nearest | null {
  let best: Nearest | null = null
  for (const a of one)
    for (const b of other) {
      const near = betweenLines(a, b)
      near.distance -= a.half + b.half
      if (!best || near.distance < best.distance) best = near
    }
  return best
}

function betweenLines(a: Body, b: Body): Nearest {
  const best = { distance: Infinity, x: 0, y: 0 }
  for (const [ax, ay, bx, by] of segments(a))
    for (const [cx, cy, dx, dy] of segments(b)) {
      const crossing = crossingOf(ax, ay, bx, by, cx, cy, dx, dy)
      if (crossing) return { distance: 0, ...crossing }
      for (const [px, py, qx, qy, rx, ry] of [
        [ax, ay, cx, cy, dx, dy],
        [bx, by, cx, cy, dx, dy],
        [cx, cy, ax, ay, bx, by],
        [dx, dy, ax, ay, bx, by],
      ] as const) {
        const [ux, uy] = [rx - qx, ry - qy]
        const size = ux * ux + uy * uy
        const u = size ? Math.max(0, Math.min(1, ((px - qx) * ux + (py - qy) * uy) / size)) : 0
        const [nx, ny] = [qx + u * ux, qy + u * uy]
        const distance = Math.hypot(px - nx, py - ny)
        if (distance < best.distance) Object.assign(best, { distance, x: (px + nx) / 2, y: (py + ny) / 2 })
      }
    }
  return best
}

function* segments({ line, closed }: Body): Generator<readonly [number, number, number, number]> {
  const n = line.length / 2
  for (let i = 0; i < (closed ? n : n - 1); i++) {
    const j = (i + 1) % n
    yield [line[2 * i]!, line[2 * i + 1]!, line[2 * j]!, line[2 * j + 1]!]
  }
}

function crossingOf(
  ...[ax, ay, bx, by, cx, cy, dx, dy]: [number, number, number, number, number, number, number, number]
): { x: number; y: number } | null {
  const [ux, uy, vx, vy] = [bx - ax, by - ay, dx - cx, dy - cy]
  const cross = ux * vy - uy * vx
  if (Math.abs(cross) < 1e-12) return null
  const s = ((cx - ax) * vy - (cy - ay) * vx) / cross
  const t = ((cx - ax) * uy - (cy - ay) * ux) / cross
  return s >= 0 && s <= 1 && t >= 0 && t <= 1 ? { x: ax + s * ux, y: ay + s * uy } : null
}
