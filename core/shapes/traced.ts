import { flatten, polygonArea } from '../geometry/path.ts'
import { bestSimilarity, type Similarity } from '../geometry/similarity.ts'
import type { Settings } from '../parameters/parameters.ts'
import type { Raster } from '../pixels/buffers/raster.ts'
import { contoursOf } from '../pixels/filters/contour.ts'
import type { Role } from '../records/types.ts'
import { partKind } from './registry.ts'

/** A traced part as effects and signals see it: its settings and its shape at any time, in plate pixels. */
export interface TracedPart {
  id: string
  kind: string
  settings: Settings
  role: Role
  /** Null while the part is away or not traced. `time` in frames of the shot. */
  at(time: number): readonly number[] | null
  /** The part's matte where it is made of pixels; null while it is away. Missing on all others. */
  raster?(time: number): Raster | null
}

/** Parts as mattes see them at a time. */
export const shapesAt = (parts: readonly TracedPart[], time: number) =>
  parts.map((part) => ({ ...part, points: part.at(time), raster: part.raster?.(time) ?? null }))

/** Points of a part at a time; of one made of pixels, which has them on whole frames only, straight between two of these. */
export function pointsBetween(part: TracedPart, time: number): readonly number[] | null {
  if (!part.raster || Number.isInteger(time)) return part.at(time)
  const [from, to] = [part.at(Math.floor(time)), part.at(Math.ceil(time))]
  if (!from || !to || from.length !== to.length) return part.at(time)
  const u = time - Math.floor(time)
  return from.map((v, i) => v + (to[i]! - v) * u)
}

/** Ratios of the axes of a painted part between which its direction comes to count: what is round has none. */
const [roundish, longish] = [1.15, 1.5]

/**
 * How a part moves from one time to another; null where it is not there, or not the same shape. Of one made of pixels that is the way of
 * its middle, the growth of its area and, as far as it is longer than wide, the turn of its longer axis, by half a turn at the most.
 */
export function motionBetween(part: TracedPart, from: number, to: number): Similarity | null {
  const [a, b] = [pointsBetween(part, from), pointsBetween(part, to)]
  if (!a || !b || a.length !== b.length) return null
  if (!part.raster) return bestSimilarity(a, b)
  const [one, other] = [ovalFacts(a), ovalFacts(b)]
  const turned = other.angle - one.angle
  const turn = turned - Math.PI * Math.round(turned / Math.PI)
  const known = Math.max(0, Math.min(1, (Math.min(one.ratio, other.ratio) - roundish) / (longish - roundish)))
  const grown = Math.sqrt(other.area / Math.max(1e-9, one.area))
  const [ar, ai] = [grown * Math.cos(turn * known), grown * Math.sin(turn * known)]
  return { ar, ai, br: b[0]! - (ar * a[0]! - ai * a[1]!), bi: b[1]! - (ai * a[0]! + ar * a[1]!) }
}

/** Of an oval by its middle and the ends of its axes: direction of the longer one, by how much it is longer, and what they span. */
function ovalFacts([x, y, ax, ay, bx, by]: readonly number[]) {
  const [a, b] = [Math.hypot(ax! - x!, ay! - y!), Math.hypot(bx! - x!, by! - y!)]
  const angle = a >= b ? Math.atan2(ay! - y!, ax! - x!) : Math.atan2(by! - y!, bx! - x!)
  return { angle, ratio: Math.max(a, b) / Math.max(1e-9, Math.min(a, b)), area: a * b }
}

/** Edge of a part at a time as a polygon (flat list, within a tenth of a pixel); null while it is not there. */
export function edgeOf(part: TracedPart, time: number): number[] | null {
  if (part.raster) {
    const raster = part.raster(time)
    return raster && (contoursOf(raster)[0] ?? null)
  }
  const points = part.at(time)
  return points && flatten(partKind(part.kind).path(points, part.settings), 0.1)
}

/** Square pixels that the parts which add to a member cover, each for itself; null while none is there. */
export function areaOf(parts: readonly TracedPart[], time: number): number | null {
  const areas = adding(parts).flatMap((part) => {
    const edge = edgeOf(part, time)
    return edge ? [Math.abs(polygonArea(edge))] : []
  })
  return areas.length ? areas.reduce((a, b) => a + b) : null
}

/** Middle of a member: the centroids of its parts, weighted by their area; of a rod the middle. Null while it is away. */
export function centreOf(parts: readonly TracedPart[], time: number): { x: number; y: number } | null {
  let [x, y, total] = [0, 0, 0]
  for (const part of adding(parts)) {
    const edge = edgeOf(part, time)
    if (!edge) continue
    const own = centroid(edge)
    const weight = Math.max(1e-6, Math.abs(polygonArea(edge)))
    x += own.x * weight
    y += own.y * weight
    total += weight
  }
  return total ? { x: x / total, y: y / total } : null
}

export const adding = (parts: readonly TracedPart[]) => parts.filter((part) => part.role === 'add')

/** Centroid of a polygon from its shoelace terms; the mean of its corners where it encloses nothing. */
function centroid(polygon: readonly number[]): { x: number; y: number } {
  let [x, y, twice] = [0, 0, 0]
  const n = polygon.length
  for (let i = 0; i < n; i += 2) {
    const j = (i + 2) % n
    const cross = polygon[i]! * polygon[j + 1]! - polygon[j]! * polygon[i + 1]!
    twice += cross
    x += (polygon[i]! + polygon[j]!) * cross
    y += (polygon[i + 1]! + polygon[j + 1]!) * cross
  }
  if (Math.abs(twice) > 1e-6) return { x: x / (3 * twice), y: y / (3 * twice) }
  for (let i = 0; i < n; i += 2) {
    x += (2 * polygon[i]!) / n
    y += (2 * polygon[i + 1]!) / n
  }
  return { x, y }
}
