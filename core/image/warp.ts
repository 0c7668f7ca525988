import type { Rect } from '../geometry/rect.ts'
import type { Edge } from './kernels.ts'
import type { Scratch } from './scratch.ts'

/**
 * Draws a picture anew in place: each pixel takes what lies at the place that `where` names, in pixels of the whole
 * picture (centres at +0.5), sampled bilinearly. `where(x, y, out)` writes two numbers. `data` covers `region`; what
 * lies past it is as `edge` says. Comes from the scratch.
 */
export function warp(
  data: Float32Array,
  region: Rect,
  edge: Edge,
  scratch: Scratch,
  where: (x: number, y: number, out: [number, number]) => void,
): void {
  const source = scratch.floats('warped', data.length)
  source.set(data)
  resample(source, region, edge, scratch, data, region, where)
}

/** The same from one picture into another: `source` covers `from`, `out` covers `to`. */
export function resample(
  source: Float32Array,
  from: Rect,
  edge: Edge,
  scratch: Scratch,
  out: Float32Array,
  to: Rect,
  where: (x: number, y: number, out: [number, number]) => void,
): void {
  const places = scratch.floats('warp places', 2 * to.width)
  const place: [number, number] = [0, 0]
  for (let y = 0; y < to.height; y++) {
    for (let x = 0; x < to.width; x++) {
      where(to.x + x + 0.5, to.y + y + 0.5, place)
      places[2 * x] = place[0] - from.x
      places[2 * x + 1] = place[1] - from.y
    }
    scratch.kernels.sampleRow(source, from.width, from.height, places, edge, out, 4 * y * to.width, to.width)
  }
}
