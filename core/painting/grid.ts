import { intersect, type Rect } from '../geometry/rect.ts'
import { colourPicture } from '../tracking/background.ts'
import { bilinear, type FollowPicture } from '../tracking/frame.ts'

/** A piece of a picture on a grid of `step` plate pixels (1, 2 or 4); its box in pixels of the grid. */
export interface Grid extends Rect {
  step: number
  luma: Float32Array
  u: Float32Array
  v: Float32Array
}

/** Pixels of a whole picture on the grid. */
export const gridSize = ({ width, height }: { width: number; height: number }, step: number): Rect => ({
  ...{ x: 0, y: 0, width: Math.max(1, Math.floor(width / step)), height: Math.max(1, Math.floor(height / step)) },
})

/** Reads the picture within a box of the grid. Colour between its own pixels is taken bilinearly. */
export function gridOf(picture: FollowPicture, step: number, wanted: Rect): Grid {
  const box = intersect(wanted, gridSize(picture, step))
  const { x, y, width, height } = box
  const size = width * height
  const out = { ...box, step, luma: new Float32Array(size), u: new Float32Array(size), v: new Float32Array(size) }
  if (step === 1) {
    const { chromaWidth, chromaHeight, u, v, luma } = picture
    for (let j = 0; j < height; j++) {
      const cy = Math.max(0, Math.min(chromaHeight - 1.001, (y + j) / 2 - 0.25))
      for (let i = 0, at = j * width; i < width; i++, at++) {
        const cx = Math.max(0, Math.min(chromaWidth - 1.001, (x + i) / 2 - 0.25))
        const from = (cy | 0) * chromaWidth + (cx | 0)
        out.luma[at] = luma[(y + j) * picture.width + x + i]!
        out.u[at] = bilinear(u, from, chromaWidth, cx - (cx | 0), cy - (cy | 0))
        out.v[at] = bilinear(v, from, chromaWidth, cx - (cx | 0), cy - (cy | 0))
      }
    }
    return out
  }
  const half = colourPicture(picture)
  const by = step / 2
  const share = 1 / (by * by)
  for (let j = 0; j < height; j++)
    for (let q = 0; q < by; q++) {
      const py = Math.min(half.height - 1, (y + j) * by + q)
      for (let i = 0, at = j * width; i < width; i++, at++)
        for (let p = 0; p < by; p++) {
          const px = Math.min(half.width - 1, (x + i) * by + p)
          out.luma[at]! += share * half.y[py * half.width + px]!
          out.u[at]! += share * half.u[py * half.row + px]!
          out.v[at]! += share * half.v[py * half.row + px]!
        }
    }
  return out
}
