import type { Rect } from '../../geometry/rect.ts'

/** A picture of working values: premultiplied RGBA floats, row by row. */
export interface Rgba {
  data: Float32Array
  width: number
  height: number
}

/** The same over a region of a larger picture. */
export interface RgbaArea {
  data: Float32Array
  region: Rect
}

/** Fills one picture from another that holds all of its region. */
export function copyArea({ data: from, region: whole }: RgbaArea, { data: to, region }: RgbaArea): void {
  for (let y = 0; y < region.height; y++) {
    const at = 4 * ((region.y + y - whole.y) * whole.width + region.x - whole.x)
    to.set(from.subarray(at, at + 4 * region.width), 4 * y * region.width)
  }
}

/** One number a pixel, row by row: a matte, a distance. */
export interface Plane {
  data: Float32Array
  width: number
  height: number
}
