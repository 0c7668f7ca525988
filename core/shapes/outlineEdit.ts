import { type Cubic, fitSegment, nearestOn, pointOn, split } from '../geometry/bezier.ts'
import { cornerNodes, nodeAt, nodeNumbers, smoothNodes } from './kinds/outline.ts'

/*
 * Changes of an outline's points. Those that change their number are made alike on every key of a part, so they are
 * pure functions of one list that the caller applies to all.
 */

/** Least nodes that make an outline. */
export const leastNodes = 3

export const nodeCount = (points: readonly number[]): number => points.length / nodeNumbers

/** Segment from node `i` to the next one. */
export function segmentOf(points: readonly number[], i: number): Cubic {
  const a = i * nodeNumbers
  const b = (a + nodeNumbers) % points.length
  return [
    ...[points[a]!, points[a + 1]!, points[a + 4]!, points[a + 5]!],
    ...[points[b + 2]!, points[b + 3]!, points[b]!, points[b + 1]!],
  ] as Cubic
}

/** Place on the outline closest to (x, y). */
export function nearestOnOutline(points: readonly number[], x: number, y: number) {
  let best = { segment: 0, t: 0, distance: Infinity }
  for (let i = 0; i < nodeCount(points); i++) {
    const near = nearestOn(segmentOf(points, i), x, y)
    if (near.distance < best.distance) best = { segment: i, ...near }
  }
  return best
}

/** A new node on the curve, at a share `t` of segment `i`: the curve stays what it was. */
export function withNode(points: readonly number[], i: number, t: number): number[] {
  const [first, second] = split(segmentOf(points, i), t)
  const out = [...points]
  const a = i * nodeNumbers
  const b = (a + nodeNumbers) % points.length
  out[a + 4] = first[2]
  out[a + 5] = first[3]
  out[b + 2] = second[4]
  out[b + 3] = second[5]
  const [x, y] = [first[6], first[7]]
  const soft = (k: number) => {
    const before = points[a + 6 + k]! - points[a + k]!
    return before + (points[b + 6 + k]! - points[b + k]! - before) * t
  }
  const fresh = [x, y, first[4], first[5], second[2], second[3], x + soft(0), y + soft(1)]
  out.splice(a + nodeNumbers, 0, ...fresh)
  return out
}

/** The outline without node `i`; the handles of its neighbours adapt so that the curve changes as little as can be. */
export function withoutNode(points: readonly number[], i: number): number[] {
  const n = nodeCount(points)
  const [before, after] = [(i + n - 1) % n, (i + 1) % n]
  const [first, second] = [segmentOf(points, before), segmentOf(points, i)]
  const places: number[] = []
  for (let k = 0; k <= 12; k++) places.push(...pointOn(first, k / 12))
  for (let k = 1; k <= 12; k++) places.push(...pointOn(second, k / 12))
  const straight = isStraight(first) && isStraight(second)
  const { cubic } = fitSegment(places, direction(first, 0), direction(second, 1))
  const out = [...points]
  // Between corners with straight sides a straight side stays.
  if (!straight) {
    out.splice(before * nodeNumbers + 4, 2, cubic[2], cubic[3])
    out.splice(after * nodeNumbers + 2, 2, cubic[4], cubic[5])
  }
  out.splice(i * nodeNumbers, nodeNumbers)
  return out
}

const isStraight = (c: Cubic) =>
  Math.hypot(c[2] - c[0], c[3] - c[1]) < 1e-6 && Math.hypot(c[4] - c[6], c[5] - c[7]) < 1e-6

/** Unit vector into the segment at its start (end 0) or backwards into it at its end (end 1). */
function direction(c: Cubic, end: 0 | 1): [number, number] {
  const order = end ? [6, 4, 2, 0] : [0, 2, 4, 6]
  const [x, y] = [c[order[0]!]!, c[order[0]! + 1]!]
  for (const k of order.slice(1)) {
    const [dx, dy] = [c[k]! - x, c[k + 1]! - y]
    const length = Math.hypot(dx, dy)
    if (length > 1e-6) return [dx / length, dy / length]
  }
  return [1, 0]
}

/** The outline with some nodes made sharp (no handles) or smooth (handles along the line of the neighbours). */
export function converted(points: readonly number[], nodes: readonly number[], to: 'corner' | 'smooth'): number[] {
  const places = points.filter((_, i) => i % nodeNumbers < 2)
  const fresh = to === 'corner' ? cornerNodes(places) : smoothNodes(places)
  const out = [...points]
  for (const node of nodes) for (let k = 2; k < 6; k++) out[node * nodeNumbers + k] = fresh[node * nodeNumbers + k]!
  return out
}

/** The outline with the handles of all its nodes along the lines of their neighbours. */
export const smoothed = (points: readonly number[]): number[] =>
  converted(points, [...Array(nodeCount(points)).keys()], 'smooth')

/**
 * A closed outline of few nodes within `tolerance` pixels of a freehand stroke (flat list of places); its ends are
 * joined. Where the stroke turns sharply a corner is made. Null where the stroke is too short to be a shape.
 */
export function fitStroke(stroke: readonly number[], tolerance: number): number[] | null {
  const places = evened(stroke, Math.max(1, tolerance))
  const n = places.length / 2
  if (n < 6) return null
  const corners = cornersOf(places)
  // Without a corner the curve starts anywhere and runs smoothly through its start.
  const starts = corners.length ? corners : [0]
  const pieces: Cubic[] = []
  const smoothStart = corners.length === 0
  starts.forEach((start, k) => {
    const end = k + 1 < starts.length ? starts[k + 1]! : starts[0]! + n
    const piece: number[] = []
    for (let i = start; i <= end; i++) piece.push(places[2 * (i % n)]!, places[2 * (i % n) + 1]!)
    const [from, to] = smoothStart ? closing(piece) : [heading(piece, 0), heading(piece, 1)]
    pieces.push(...fitted(piece, from, to, tolerance))
  })
  const nodes: number[] = []
  pieces.forEach((c, i) => {
    const before = pieces[(i + pieces.length - 1) % pieces.length]!
    nodes.push(...nodeAt(c[0], c[1], [before[4], before[5]], [c[2], c[3]]))
  })
  return nodeCount(nodes) >= leastNodes ? nodes : halved(nodes)
}

/** A curve of too few nodes gets more on it. */
function halved(nodes: number[]): number[] {
  let out = nodes
  while (nodeCount(out) < leastNodes) for (let i = nodeCount(out) - 1; i >= 0; i--) out = withNode(out, i, 0.5)
  return out
}

/** Places along the closed stroke, `step` pixels apart, a little smoothed: a hand trembles. */
function evened(stroke: readonly number[], step: number): number[] {
  const closed = [...stroke, stroke[0]!, stroke[1]!]
  const out: number[] = []
  let left = 0
  for (let i = 2; i < closed.length; i += 2) {
    const [x0, y0, x1, y1] = [closed[i - 2]!, closed[i - 1]!, closed[i]!, closed[i + 1]!]
    const length = Math.hypot(x1 - x0, y1 - y0)
    while (left < length) {
      out.push(x0 + ((x1 - x0) * left) / length, y0 + ((y1 - y0) * left) / length)
      left += step
    }
    left -= length
  }
  return out
}

/** Places where the stroke turns by more than about 55 degrees within a short way, by index. */
function cornersOf(places: readonly number[]): number[] {
  const n = places.length / 2
  const reach = Math.max(2, Math.min(5, Math.floor(n / 12)))
  const turns = Array.from({ length: n }, (_, i) => {
    const at = (k: number) => ((i + k + n) % n) * 2
    const [a, b, c] = [at(-reach), at(0), at(reach)]
    const [ux, uy] = [places[b]! - places[a]!, places[b + 1]! - places[a + 1]!]
    const [vx, vy] = [places[c]! - places[b]!, places[c + 1]! - places[b + 1]!]
    return Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy))
  })
  return turns.flatMap((turn, i) => {
    if (turn < 0.96) return []
    for (let k = -2 * reach; k <= 2 * reach; k++) {
      const other = turns[(i + k + n) % n]!
      if (other > turn || (other === turn && k < 0)) return []
    }
    return [i]
  })
}

function heading(places: readonly number[], end: 0 | 1): [number, number] {
  const n = places.length / 2
  const reach = Math.min(3, n - 1)
  const [a, b] = end ? [n - 1, n - 1 - reach] : [0, reach]
  const [dx, dy] = [places[2 * b]! - places[2 * a]!, places[2 * b + 1]! - places[2 * a + 1]!]
  const length = Math.hypot(dx, dy) || 1
  return [dx / length, dy / length]
}

/** Headings at the joined ends of a closed smooth curve: one line. */
function closing(places: readonly number[]): [[number, number], [number, number]] {
  const [a, b] = [heading(places, 0), heading(places, 1)]
  const [dx, dy] = [a[0] - b[0], a[1] - b[1]]
  const length = Math.hypot(dx, dy) || 1
  return [
    [dx / length, dy / length],
    [-dx / length, -dy / length],
  ]
}

function fitted(places: number[], from: [number, number], to: [number, number], tolerance: number): Cubic[] {
  const { cubic, error, worst } = fitSegment(places, from, to)
  const n = places.length / 2
  if (error <= tolerance || n < 5) return [cubic]
  const cut = Math.max(2, Math.min(n - 3, worst))
  const [a, b] = [2 * Math.max(0, cut - 2), 2 * Math.min(n - 1, cut + 2)]
  const [dx, dy] = [places[b]! - places[a]!, places[b + 1]! - places[a + 1]!]
  const length = Math.hypot(dx, dy) || 1
  const on: [number, number] = [dx / length, dy / length]
  return [
    ...fitted(places.slice(0, 2 * cut + 2), from, [-on[0], -on[1]], tolerance),
    ...fitted(places.slice(2 * cut), on, to, tolerance),
  ]
}

/** Whether the outline crosses itself: its polygon within half a pixel, edges that share no end. */
export function crossesItself(polygon: readonly number[]): boolean {
  const n = polygon.length / 2
  const edges = Array.from({ length: n }, (_, i) => {
    const j = (i + 1) % n
    return [polygon[2 * i]!, polygon[2 * i + 1]!, polygon[2 * j]!, polygon[2 * j + 1]!] as const
  })
  const side = (ax: number, ay: number, bx: number, by: number, px: number, py: number) =>
    (bx - ax) * (py - ay) - (by - ay) * (px - ax)
  for (let i = 0; i < n; i++) {
    const [ax, ay, bx, by] = edges[i]!
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue
      const [cx, cy, dx, dy] = edges[j]!
      if (Math.max(cx, dx) < Math.min(ax, bx) || Math.min(cx, dx) > Math.max(ax, bx)) continue
      if (
        side(ax, ay, bx, by, cx, cy) * side(ax, ay, bx, by, dx, dy) < 0 &&
        side(cx, cy, dx, dy, ax, ay) * side(cx, cy, dx, dy, bx, by) < 0
      )
        return true
    }
  }
  return false
}
