import { flatten, polygonArea } from '../geometry/path.ts'
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
