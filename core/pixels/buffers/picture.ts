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

/** One number a pixel, row by row: a matte, a distance. */
export interface Plane {
  data: Float32Array
  width: number
  height: number
}
