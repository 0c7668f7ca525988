import type { ClosedPath } from '../geometry/path.ts'
import { still } from '../parameters/builders.ts'
import type { Parameter, Settings } from '../parameters/parameters.ts'

/**
 * What a point of a shape is, which decides how its handle is drawn: a square, a circle, or a small lever that belongs
 * to another point. A `soft` lever says how far the edge fades at its point.
 */
export type HandleForm = 'heel' | 'tip' | 'corner' | 'smooth' | 'lever' | 'soft'

/**
 * One kind of part. A shape at a time is a flat list of points in plate pixels; everything that moves, blends or
 * predicts shapes works on that list alone, so a new kind needs only this description and a line in the registry.
 */
export interface PartKind {
  kind: string
  title: string
  /** Numbers in a key's list: so many, alike in all keys of a part; undefined where every part has its own count. */
  numbers?: readonly number[]
  /** What the hint says for each click that places the shape; the last one goes on where the count is free. */
  placing: string[]
  /** Settings of the part, the same on every frame. */
  settings: readonly Parameter[]
  /** Whether the shape stays on beyond its first and last key unless the user says otherwise. */
  hold: boolean
  /** Form of a point's handle, by index of the point. */
  handleForm(points: readonly number[], index: number): HandleForm
  /** The point and all that go along when it is carried, by index. */
  group(points: readonly number[], index: number): number[]
  /** The points after the one at `index` went to (x, y): what hangs on it goes along. */
  moved(points: readonly number[], index: number, x: number, y: number): number[]
  /** What is left to do where only some of its points were carried by a map of the plane. */
  carried?(before: readonly number[], after: number[], chosen: readonly number[]): number[]
  /** The shape's edge in plate pixels, for drawing and for its matte. */
  path(points: readonly number[], settings: Settings): ClosedPath
  /** Whether it is made of pixels on each of its frames: there is no handle to it and nothing between two keys. */
  pixels?: boolean
  /** How it is drawn in the editor where that is not its edge. */
  drawn?(points: readonly number[]): ClosedPath
  /** What of the picture is followed with it, where that is not what it encloses. */
  followed?(points: readonly number[], settings: Settings): ClosedPath
  /** A shape made from the clicked places. */
  fromClicks(clicks: readonly number[]): number[]
  /** The shape with as many numbers as another one of its part, where the kind leaves a choice. */
  likewise?(points: readonly number[], other: readonly number[], settings: Settings): readonly number[]
}

/** What every part's matte takes. */
export const matteSettings = {
  feather: still('Feather', 'px', [0, 200, 0.5], 2, 'Softness of the edge: how many pixels it takes to fade.'),
  grow: still('Grow', 'px', [-100, 100, 0.5], 0, 'Moves the edge of the matte outwards, or inwards below 0.'),
  opacity: still('Opacity', '%', [0, 1, 0.01], 1, 'How much the part counts in the matte.'),
}

/** Points that stand for themselves: what is chosen, framed and counted. */
export const anchors = (kind: PartKind, points: readonly number[]): number[] =>
  Array.from({ length: points.length / 2 }, (_, i) => i).filter((i) => {
    const form = kind.handleForm(points, i)
    return form !== 'lever' && form !== 'soft'
  })

/** The chosen points, and all that go along with them, sent through a map of the plane. */
export function carriedBy(
  kind: PartKind,
  points: readonly number[],
  chosen: readonly number[],
  map: (x: number, y: number) => [number, number],
): number[] {
  const out = [...points]
  for (const index of new Set(chosen.flatMap((i) => kind.group(points, i)))) {
    const [x, y] = map(points[2 * index]!, points[2 * index + 1]!)
    out[2 * index] = x
    out[2 * index + 1] = y
  }
  return kind.carried?.(points, out, chosen) ?? out
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
