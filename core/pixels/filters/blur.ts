import { type BorderMode, withinBorder } from '../buffers/border.ts'
import type { Rgba } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'
import { gaussianKernel } from './gaussian.ts'
import { doubleColumns, doubleRows, halveColumns, halveRows, padded } from './pyramid.ts'

const slots = {
  across: new Slot(),
  down: new Slot(),
  line: new Slot(),
  rows: new Slot(),
  weights: new Slot(),
}

/** How often an axis is halved before it is blurred: the sigma that is left is 2.3 to 4.9 cells, or more at the end. */
const halvings = (sigma: number): number =>
  sigma < 4.8 ? 0 : sigma < 9.6 ? 1 : sigma < 19.2 ? 2 : sigma < 38.4 ? 3 : 4

/** Sigma in cells that is left for the blur after `level` halvings with [1 3 3 1] and as many bilinear enlargements. */
function restOf(sigma: number, level: number): number {
  let taken = 0
  for (let k = 1; k <= level; k++) taken += 0.75 * 4 ** (k - 1) + 0.1875 * 4 ** k
  return Math.sqrt(Math.max(0, sigma * sigma - taken)) / 2 ** level
}

/**
 * Blurs a picture in place with a Gaussian of `sigma` pixels, the same both ways or each its own. Wide ones work on reduced
 * copies. `border` says what lies around the picture; on a reduced copy that goes by cells, so a stretched edge is the mean
 * of its last few pixels. The data comes from the scratch.
 */
export function blurPicture(
  picture: Rgba,
  sigma: number | { x: number; y: number },
  border: BorderMode,
  scratch: Scratch,
): void {
  const { x: sigmaX, y: sigmaY } = typeof sigma === 'number' ? { x: sigma, y: sigma } : sigma
  const [levelX, levelY] = [halvings(sigmaX), halvings(sigmaY)]
  // Every picture on the way down, the last one first: what it is enlarged into on the way up.
  const before: Rgba[] = []
  let small = picture
  for (let k = 1; k <= levelX; k++) {
    before.unshift(small)
    small = halveRows(small, border, scratch, slots.across.part(k))
  }
  for (let k = 1; k <= levelY; k++) {
    before.unshift(small)
    small = halveColumns(small, border, scratch, slots.down.part(k))
  }
  const [x, y] = [restOf(sigmaX, levelX), restOf(sigmaY, levelY)]
  if (x >= 0.05) weighRows(small, gaussianKernel(x), border, scratch)
  if (y >= 0.05) weighColumns(small, gaussianKernel(y), border, scratch)
  before.forEach((large, k) => {
    if (k < levelY) doubleColumns(small, large, border, scratch)
    else doubleRows(small, large, border, scratch)
    small = large
  })
}

/** Convolves every row in place with a symmetric kernel (values at 0, 1, 2, ...). */
export function weighRows(picture: Rgba, kernel: Float32Array, border: BorderMode, scratch: Scratch): void {
  const { data, width, height } = picture
  const pad = kernel.length - 1
  const weights = scratch.floats(slots.weights, kernel.length)
  weights.set(kernel)
  const line = scratch.floats(slots.line, 4 * (width + 2 * pad))
  for (let y = 0; y < height; y++) {
    padded(picture, y, pad, border, line)
    scratch.kernels.weighRow(span(line, 4 * pad), 4, weights, span(data, 4 * y * width), 4 * width)
  }
}

/** The same down the columns. */
export function weighColumns(picture: Rgba, kernel: Float32Array, border: BorderMode, scratch: Scratch): void {
  const { data, width, height } = picture
  const pad = kernel.length - 1
  const weights = scratch.floats(slots.weights, kernel.length)
  weights.set(kernel)
  const size = 4 * width
  const rows = scratch.floats(slots.rows, size * (height + 2 * pad))
  rows.set(data.subarray(0, size * height), size * pad)
  for (let k = 0; k < pad; k++)
    for (const [to, from] of [
      [k, withinBorder(k - pad, height, border)],
      [pad + height + k, withinBorder(height + k, height, border)],
    ] as const)
      if (from < 0) rows.fill(0, to * size, (to + 1) * size)
      else rows.copyWithin(to * size, (pad + from) * size, (pad + from + 1) * size)
  for (let y = 0; y < height; y++)
    scratch.kernels.weighRow(span(rows, size * (pad + y)), size, weights, span(data, y * size), size)
}
