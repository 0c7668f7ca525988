import { fitSegment } from '../geometry/bezier.ts'
import { polygonArea } from '../geometry/path.ts'
import type { Raster } from '../pixels/buffers/raster.ts'
import { contoursOf } from '../pixels/filters/contour.ts'
import { nodeAt, nodeNumbers } from '../shapes/kinds/outline.ts'
import { fitStroke } from '../shapes/outlineEdit.ts'

/*
 * Outlines of a painted matte with the same few points on every frame: fitted to the contour of one frame, then laid
 * along the contours of the others in their order, each point near where it was.
 */

/** Places that a contour is reduced to before points are laid along it. */
const samples = 360

/**
 * Points of an outline (see shapes/outline.ts) on every frame that has a matte, within about `tolerance` pixels on the
 * frame `first`. Only the largest area of a matte is outlined. Empty where the first matte is too small for an outline.
 */
export function outlined(mattes: ReadonlyMap<number, Raster>, first: number, tolerance: number): Map<number, number[]> {
  const out = new Map<number, number[]>()
  const start = contourAt(mattes, first)
  const nodes = start && fitStroke(start, tolerance)
  if (!nodes) return out
  out.set(first, nodes)
  const frames = [...mattes.keys()].sort((a, b) => a - b)
  const at = frames.indexOf(first)
  let before = nodes
  for (let k = at + 1; k < frames.length; k++) before = next(frames[k]!, before)
  before = nodes
  for (let k = at - 1; k >= 0; k--) before = next(frames[k]!, before)
  return out

  function next(frame: number, before: number[]): number[] {
    const contour = contourAt(mattes, frame)
    const points = contour && laidAlong(contour, before)
    if (points) out.set(frame, points)
    return points ?? before
  }
}

/** The largest contour of a frame, turning the same way on all of them. */
function contourAt(mattes: ReadonlyMap<number, Raster>, frame: number): number[] | null {
  const raster = mattes.get(frame)
  const contour = raster && contoursOf(raster)[0]
  if (!contour || contour.length < 24) return null
  if (polygonArea(contour) > 0) return contour
  const turned: number[] = []
  for (let i = contour.length - 2; i >= 0; i -= 2) turned.push(contour[i]!, contour[i + 1]!)
  return turned
}

/**
 * The nodes of an outline moved onto a contour: in their order along it, so that the sum of squared ways is least. Found by
 * dynamic programming for the best of the places where the first one may go.
 */
function laidAlong(contour: number[], before: readonly number[]): number[] | null {
  const places = evenly(contour, samples)
  const count = before.length / nodeNumbers
  const wanted = shifted(before, count, places)
  const way = (node: number, place: number) =>
    (wanted[2 * node]! - places[2 * (place % samples)]!) ** 2 +
    (wanted[2 * node + 1]! - places[2 * (place % samples) + 1]!) ** 2
  let best: { cost: number; at: number[] } | null = null
  const starts = Array.from({ length: samples }, (_, i) => i)
    .sort((a, b) => way(0, a) - way(0, b))
    .slice(0, 5)
  for (const start of starts) {
    const found = inOrder(way, count, start)
    if (!best || found.cost < best.cost) best = found
  }
  return best && curveThrough(places, best.at)
}

/** The nodes moved as a whole by the way of the contours' middles. */
function shifted(before: readonly number[], count: number, places: Float32Array): number[] {
  const own = Array.from({ length: count }, (_, i) => [before[i * nodeNumbers]!, before[i * nodeNumbers + 1]!]).flat()
  const [x0, y0, x1, y1] = [...spanOf(own), ...spanOf(places)] as number[] as [number, number, number, number]
  return own.map((v, i) => v + (i % 2 ? y1 - y0 : x1 - x0))
}

/** Middle of the box around places. */
function spanOf(places: ArrayLike<number>): [number, number] {
  let [left, right, top, bottom] = [Infinity, -Infinity, Infinity, -Infinity]
  for (let i = 0; i < places.length; i += 2) {
    left = Math.min(left, places[i]!)
    right = Math.max(right, places[i]!)
    top = Math.min(top, places[i + 1]!)
    bottom = Math.max(bottom, places[i + 1]!)
  }
  return [(left + right) / 2, (top + bottom) / 2]
}

/** Places of all nodes in rising order from `start`, the last one before the start comes round again. */
function inOrder(way: (node: number, place: number) => number, count: number, start: number) {
  const cost = new Float64Array(samples).fill(Infinity)
  const from: Int16Array[] = []
  cost[0] = way(0, start)
  for (let node = 1; node < count; node++) {
    const back = new Int16Array(samples)
    const next = new Float64Array(samples).fill(Infinity)
    let [least, where] = [Infinity, 0]
    for (let place = 1; place < samples; place++) {
      if (cost[place - 1]! < least) [least, where] = [cost[place - 1]!, place - 1]
      next[place] = least + way(node, start + place)
      back[place] = where
    }
    from.push(back)
    cost.set(next)
  }
  let last = 0
  for (let place = 0; place < samples; place++) if (cost[place]! < cost[last]!) last = place
  const total = cost[last]!
  const at = [start + last]
  for (let node = count - 2; node >= 0; node--) {
    last = from[node]![last]!
    at.unshift(start + last)
  }
  return { cost: total, at }
}

/** Nodes at places of the contour, with the handles that bring the curve closest to it. */
function curveThrough(places: Float32Array, at: number[]): number[] {
  const point = (i: number): [number, number] => {
    const k = 2 * (((i % samples) + samples) % samples)
    return [places[k]!, places[k + 1]!]
  }
  const headings = at.map((i) => {
    const [a, b] = [point(i - 2), point(i + 2)]
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1
    return [(b[0] - a[0]) / length, (b[1] - a[1]) / length] as [number, number]
  })
  const cubics = at.map((i, k) => {
    const end = k + 1 < at.length ? at[k + 1]! : at[0]! + samples
    const on = headings[(k + 1) % at.length]!
    const piece: number[] = []
    for (let p = i; p <= end; p++) piece.push(...point(p))
    return fitSegment(piece, headings[k]!, [-on[0], -on[1]]).cubic
  })
  return cubics.flatMap((cubic, k) => {
    const before = cubics[(k + cubics.length - 1) % cubics.length]!
    return nodeAt(cubic[0], cubic[1], [before[4], before[5]], [cubic[2], cubic[3]])
  })
}

/** So many places along a closed polygon, evenly far apart. */
function evenly(polygon: readonly number[], count: number): Float32Array {
  const n = polygon.length / 2
  const lengths = new Float64Array(n + 1)
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    lengths[i + 1] =
      lengths[i]! + Math.hypot(polygon[2 * j]! - polygon[2 * i]!, polygon[2 * j + 1]! - polygon[2 * i + 1]!)
  }
  const out = new Float32Array(2 * count)
  for (let k = 0, i = 0; k < count; k++) {
    const along = (k / count) * lengths[n]!
    while (lengths[i + 1]! < along) i++
    const j = (i + 1) % n
    const t = (along - lengths[i]!) / Math.max(1e-9, lengths[i + 1]! - lengths[i]!)
    out[2 * k] = polygon[2 * i]! + (polygon[2 * j]! - polygon[2 * i]!) * t
    out[2 * k + 1] = polygon[2 * i + 1]! + (polygon[2 * j + 1]! - polygon[2 * i + 1]!) * t
  }
  return out
}
