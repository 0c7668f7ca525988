import type { Rect } from '../../geometry/rect.ts'
import type { Edge } from '../kernels/kernels.ts'
import type { Scratch } from '../buffers/scratch.ts'

/** Writes the place that a pixel takes its colour from, in pixels of the whole picture (centres at +0.5). */
export type Where = (x: number, y: number, out: [number, number]) => void

/** A picture (RGBA floats over a region) that is drawn anew; `under` is the same, or more of it, in a buffer of its own. */
export interface Warped {
  data: Float32Array
  region: Rect
  under?: { data: Float32Array; region: Rect }
}

/** What a picture was before it is drawn anew in place: what lies under it, or else a copy. */
function sourceOf({ data, region, under }: Warped, scratch: Scratch): { data: Float32Array; region: Rect } {
  if (under) return under
  const copy = scratch.floats('warped', data.length)
  copy.set(data)
  return { data: copy, region }
}

/**
 * Draws a picture anew in place: each pixel takes what lies at the place that `where` names, sampled bilinearly. What lies
 * past the picture is as `edge` says. The map is asked on a mesh of `step` pixels and straight between: it has to be
 * smooth over that. The data comes from the scratch.
 */
export function warp(image: Warped, edge: Edge, scratch: Scratch, where: Where, step: number): void {
  const source = sourceOf(image, scratch)
  resample(source.data, source.region, edge, scratch, image.data, image.region, where, step)
}

/** The same from one picture into another: `source` covers `from`, `out` covers `to`. */
export function resample(
  source: Float32Array,
  from: Rect,
  edge: Edge,
  scratch: Scratch,
  out: Float32Array,
  to: Rect,
  where: Where,
  step: number,
): void {
  // Nodes lie at multiples of the step in the whole picture, so that another region asks at the same places.
  const left = Math.floor(to.x / step)
  const count = Math.ceil((to.x + to.width) / step) - left + 2
  const offset = to.x - left * step
  const rows = [0, 1].map((k) => scratch.floats(`warp nodes ${k}`, 2 * count)) as [Float32Array, Float32Array]
  const line = scratch.floats('warp line', 2 * count)
  const place: [number, number] = [0, 0]
  const ask = (row: number, nodes: Float32Array) => {
    for (let k = 0; k < count; k++) {
      where((left + k) * step + 0.5, row * step + 0.5, place)
      nodes[2 * k] = place[0] - from.x
      nodes[2 * k + 1] = place[1] - from.y
    }
  }
  let asked = NaN
  for (let y = to.y; y < to.y + to.height; y++) {
    const row = Math.floor(y / step)
    if (row !== asked) {
      if (row === asked + 1) rows.reverse()
      else ask(row, rows[0])
      ask(row + 1, rows[1])
      asked = row
    }
    const u = (y - row * step) / step
    const [above, below] = rows
    for (let k = 0; k < 2 * count; k++) line[k] = above[k]! + (below[k]! - above[k]!) * u
    scratch.kernels.sampleMesh(
      ...([source, from.width, from.height, line, step, offset, edge] as const),
      ...([out, 4 * (y - to.y) * to.width, to.width] as const),
    )
  }
}

/** Place of the pixel (x, y): (a x + c y + e, b x + d y + f). */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number]

/** A turn by `angle` (radians, clockwise on screen) and growth by `size` about a place, then a shift. */
export function turnAbout(cx: number, cy: number, angle: number, size: number, dx = 0, dy = 0): Affine {
  const [c, s] = [Math.cos(angle) * size, Math.sin(angle) * size]
  return [c, s, -s, c, cx + dx - c * cx + s * cy, cy + dy - s * cx - c * cy]
}

/** The map after a shift by (dx, dy). */
export const movedFirst = ([a, b, c, d, e, f]: Affine, dx: number, dy: number): Affine => [
  ...([a, b, c, d] as const),
  e + a * dx + c * dy,
  f + b * dx + d * dy,
]

/** {@link resample} for maps that keep lines straight and parallel. */
export function resampleAffine(
  source: Float32Array,
  from: Rect,
  edge: Edge,
  scratch: Scratch,
  out: Float32Array,
  to: Rect,
  [a, b, c, d, e, f]: Affine,
): void {
  for (let y = 0; y < to.height; y++) {
    const [px, py] = [to.x + 0.5, to.y + y + 0.5]
    const line = { x: a * px + c * py + e - from.x, y: b * px + d * py + f - from.y, dx: a, dy: b }
    scratch.kernels.sampleLine(
      ...([source, from.width, from.height, line, edge, out, 4 * y * to.width, to.width] as const),
    )
  }
}

export function warpAffine(image: Warped, edge: Edge, scratch: Scratch, map: Affine): void {
  const source = sourceOf(image, scratch)
  resampleAffine(source.data, source.region, edge, scratch, image.data, image.region, map)
}
