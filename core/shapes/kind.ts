import type { ClosedPath } from '../geometry/path.ts'
import type { NumberParameter, Settings } from '../model/parameters.ts'

/** What a point of a shape is, which decides how its handle is drawn: a square, a circle, or a small lever. */
export type HandleForm = 'heel' | 'tip' | 'corner' | 'smooth' | 'lever'

/**
 * One kind of part. A shape at a time is a flat list of points in plate pixels; everything that moves, blends or
 * predicts shapes works on that list alone, so a new kind needs only this description and a line in the registry.
 */
export interface PartKind {
  kind: string
  title: string
  /** Numbers in a key's list: exactly this many, or undefined where every part has its own count. */
  numbers?: number
  /** What the hint says for each click that places the shape. */
  placing: string[]
  /** Settings of the part, the same on every frame. */
  settings: NumberParameter[]
  /** Whether the shape stays on beyond its first and last key unless the user says otherwise. */
  hold: boolean
  /** Form of each point's handle, by index of the point. */
  handleForm(index: number): HandleForm
  /** The points after the one at `index` went to (x, y): what hangs on it goes along. */
  moved(points: readonly number[], index: number, x: number, y: number): number[]
  /** The shape's edge in plate pixels, for drawing and for its matte. */
  path(points: readonly number[], settings: Settings): ClosedPath
  /** A shape made from the clicked places. */
  fromClicks(clicks: readonly number[]): number[]
}

export function polygonPath(points: readonly number[]): ClosedPath {
  const out: number[] = [points[0]!, points[1]!]
  const n = points.length
  for (let i = 0; i < n; i += 2) {
    const [x0, y0, x1, y1] = [points[i]!, points[i + 1]!, points[(i + 2) % n]!, points[(i + 3) % n]!]
    out.push(x0 + (x1 - x0) / 3, y0 + (y1 - y0) / 3, x1 - (x1 - x0) / 3, y1 - (y1 - y0) / 3, x1, y1)
  }
  return out
}

/** The points with the one at `index` replaced; nothing else moves. */
export function withPoint(points: readonly number[], index: number, x: number, y: number): number[] {
  const out = [...points]
  out[2 * index] = x
  out[2 * index + 1] = y
  return out
}
