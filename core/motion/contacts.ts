import { isNear } from '../geometry/path.ts'
import { boundsOf } from '../geometry/rect.ts'
import { reachedTip, rodReach, rodWidths } from '../shapes/kinds/rod.ts'
import { adding, edgeOf, type TracedPart } from '../shapes/traced.ts'

/** Two members meeting. */
export interface Contact {
  /** The frame on which they stop coming together. */
  frame: number
  /** Where, in plate pixels. */
  x: number
  y: number
  /** How fast they came together before, at most, in pixels a frame. */
  speed: number
}

/** What touches: a rod's axis as far as its blade reaches, with half its width around it, or the edge of a shape. */
interface Body {
  /** Flat list of places. */
  line: readonly number[]
  closed: boolean
  half: number
}

/** How two bodies lie: below 0 the distance between them is `-depth`, above they overlap by so much. */
interface Lie {
  depth: number
  x: number
  y: number
}

/** Steps a frame: between two frames a fast prop passes right through another. */
const steps = 4
/** Slower than this (pixels a frame) nothing clashes, and a meeting rises by at least so many pixels. */
const slowest = 3
const least = 8
/** They have stopped when what is left of the speed is this share of it. */
const rest = 0.03

/**
 * Contacts of two members over a shot of `length` frames, by geometry alone. In a picture props overlap before they
 * clash, so the first touch is no contact: it is where they, overlapping, stop coming closer, be it that they spring
 * back, pass each other or stay.
 */
export function contactsOf(one: readonly TracedPart[], other: readonly TracedPart[], length: number): Contact[] {
  const out: Contact[] = []
  let before: Lie | null = null
  let low = Infinity
  let fastest = 0
  for (let i = 0; i <= (length - 1) * steps; i++) {
    const time = i / steps
    const now = lieOf(bodies(one, time), bodies(other, time))
    if (now && before) {
      const speed = (now.depth - before.depth) * steps
      fastest = Math.max(fastest, speed)
      if (before.depth > 0 && fastest >= slowest && speed <= rest * fastest) {
        if (before.depth - low >= least)
          out.push({ frame: Math.round(time - 0.5 / steps), x: before.x, y: before.y, speed: fastest })
        fastest = 0
        low = before.depth
      }
      if (speed < 0) fastest = 0
    } else fastest = 0
    low = now ? Math.min(before ? low : Infinity, now.depth) : Infinity
    before = now
  }
  return out
}

/** Distance of two members at a time, in pixels; 0 or less while they touch, null while one of them is not there. */
export function distanceAt(one: readonly TracedPart[], other: readonly TracedPart[], time: number): number | null {
  const lie = lieOf(bodies(one, time), bodies(other, time))
  return lie && Math.max(0, -lie.depth)
}

/** Where two members meet at a time, or come nearest; null while one of them is not there. */
export function meetingAt(
  one: readonly TracedPart[],
  other: readonly TracedPart[],
  time: number,
): { x: number; y: number } | null {
  return lieOf(bodies(one, time), bodies(other, time))
}

function bodies(parts: readonly TracedPart[], time: number): Body[] {
  return adding(parts).flatMap((part): Body[] => {
    if (part.kind !== 'rod') {
      const edge = edgeOf(part, time)
      return edge ? [{ line: edge, closed: true, half: 0 }] : []
    }
    const points = part.at(time)
    if (!points) return []
    const { heel, tip } = rodWidths(points, part.settings)
    const half = (heel + tip) / 4
    return [{ line: [points[0]!, points[1]!, ...reachedTip(points, rodReach(part.settings))], closed: false, half }]
  })
}

/** How the nearest, or the deepest, of two members' bodies lie; null where one of them is not there. */
function lieOf(one: Body[], other: Body[]): Lie | null {
  let best: Lie | null = null
  for (const a of one)
    for (const b of other) {
      const lie = between(a, b)
      lie.depth += a.half + b.half
      if (!best || lie.depth > best.depth) best = lie
    }
  return best
}

function between(a: Body, b: Body): Lie {
  const best = { depth: -Infinity, x: 0, y: 0 }
  const take = (depth: number, x: number, y: number) => {
    if (depth <= best.depth) return
    best.depth = depth
    best.x = x
    best.y = y
  }
  const [as, bs] = [segments(a), segments(b)]
  for (let i = 0; i < as.length; i += perSegment) {
    const [ax, ay, bx, by] = [as[i]!, as[i + 1]!, as[i + 2]!, as[i + 3]!]
    for (let j = 0; j < bs.length; j += perSegment) {
      // Nearer than what is between the circles around them they are not.
      const apart = Math.hypot(as[i + 4]! - bs[j + 4]!, as[i + 5]! - bs[j + 5]!) - as[i + 6]! - bs[j + 6]!
      if (apart > 0 && -apart < best.depth) continue
      const [cx, cy, dx, dy] = [bs[j]!, bs[j + 1]!, bs[j + 2]!, bs[j + 3]!]
      const crossing = apart > 0 ? null : crossingOf(ax, ay, bx, by, cx, cy, dx, dy)
      if (crossing) {
        // Crossed by as much as is missing until a tip slides off: the heels are held.
        const { x, y } = crossing
        const ends = [
          ...(a.closed ? [] : [Math.hypot(bx - x, by - y)]),
          ...(b.closed ? [] : [Math.hypot(dx - x, dy - y)]),
        ]
        take(ends.length ? Math.min(...ends) : 0, x, y)
        continue
      }
      nearest(ax, ay, cx, cy, dx, dy, take)
      nearest(bx, by, cx, cy, dx, dy, take)
      nearest(cx, cy, ax, ay, bx, by, take)
      nearest(dx, dy, ax, ay, bx, by, take)
    }
  }
  within(a.line, b, bs, take)
  within(b.line, a, as, take)
  return best
}

/** Takes how near a place comes to a segment. */
function nearest(
  px: number,
  py: number,
  qx: number,
  qy: number,
  rx: number,
  ry: number,
  take: (depth: number, x: number, y: number) => void,
): void {
  const [ux, uy] = [rx - qx, ry - qy]
  const size = ux * ux + uy * uy
  const u = size ? Math.max(0, Math.min(1, ((px - qx) * ux + (py - qy) * uy) / size)) : 0
  const [nx, ny] = [qx + u * ux, qy + u * uy]
  take(-Math.hypot(px - nx, py - ny), (px + nx) / 2, (py + ny) / 2)
}

/** Takes the places of a line that lie within a body: as deep as they are from its edge. */
function within(
  line: readonly number[],
  outer: Body,
  edge: Float64Array,
  take: (depth: number, x: number, y: number) => void,
): void {
  if (!outer.closed) return
  const { x: left, y: top, width, height } = boundsOf(outer.line)
  for (let i = 0; i < line.length; i += 2) {
    const [x, y] = [line[i]!, line[i + 1]!]
    if (x < left || y < top || x > left + width || y > top + height || !isNear(outer.line, x, y, 0)) continue
    let depth = Infinity
    for (let j = 0; j < edge.length; j += perSegment)
      nearest(x, y, edge[j]!, edge[j + 1]!, edge[j + 2]!, edge[j + 3]!, (away) => (depth = Math.min(depth, -away)))
    take(depth, x, y)
  }
}

/** Numbers of a segment: its two ends, its middle, and half its length. */
const perSegment = 7

function segments({ line, closed }: Body): Float64Array {
  const n = line.length / 2
  const count = closed ? n : n - 1
  const out = new Float64Array(perSegment * count)
  for (let i = 0, to = 0; i < count; i++, to += perSegment) {
    const j = (i + 1) % n
    const [ax, ay, bx, by] = [line[2 * i]!, line[2 * i + 1]!, line[2 * j]!, line[2 * j + 1]!]
    out[to] = ax
    out[to + 1] = ay
    out[to + 2] = bx
    out[to + 3] = by
    out[to + 4] = (ax + bx) / 2
    out[to + 5] = (ay + by) / 2
    out[to + 6] = Math.hypot(bx - ax, by - ay) / 2
  }
  return out
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
