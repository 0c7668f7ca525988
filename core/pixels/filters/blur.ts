import { type BorderMode, withinBorder } from '../buffers/border.ts'
import type { Rgba } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'
import { gaussianKernel } from './gaussian.ts'

const slots = {
  across: new Slot(),
  down: new Slot(),
  line: new Slot(),
  wideLine: new Slot(),
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

/** A row of a picture with `pad` more pixels on both sides as the border says, in `line`. */
function padded({ data, width }: Rgba, row: number, pad: number, border: BorderMode, line: Float32Array): void {
  const start = 4 * row * width
  line.set(data.subarray(start, start + 4 * width), 4 * pad)
  for (let k = 1; k <= pad; k++) {
    putPixel(data, start, withinBorder(-k, width, border), line, 4 * (pad - k))
    putPixel(data, start, withinBorder(width - 1 + k, width, border), line, 4 * (pad + width - 1 + k))
  }
}

function putPixel(data: Float32Array, start: number, column: number, line: Float32Array, to: number): void {
  for (let c = 0; c < 4; c++) line[to + c] = column < 0 ? 0 : data[start + 4 * column + c]!
}

/** A picture of half the width. */
function halveRows(picture: Rgba, border: BorderMode, scratch: Scratch, slot: Slot): Rgba {
  const { width, height } = picture
  const half = (width + 1) >> 1
  const out = scratch.floats(slot, 4 * half * height)
  const line = scratch.floats(slots.line, 4 * (width + 4))
  for (let y = 0; y < height; y++) {
    padded(picture, y, 2, border, line)
    scratch.kernels.foldPixels(span(line, 4), span(out, 4 * y * half), half)
  }
  return { data: out, width: half, height }
}

/** A picture of half the height. */
function halveColumns(picture: Rgba, border: BorderMode, scratch: Scratch, slot: Slot): Rgba {
  const { width, height } = picture
  const half = (height + 1) >> 1
  const out = scratch.floats(slot, 4 * width * half)
  const source = border === 'nothing' ? withZeroRow(picture, scratch, slot.part('and nothing')) : picture.data
  // The row that stands for row `y`, as a place; where there is none, the row of zeros at the end.
  const row = (y: number): number => {
    const there = withinBorder(y, height, border)
    return 4 * width * (there < 0 ? height : there)
  }
  for (let y = 0; y < half; y++) {
    const rows = [row(2 * y - 1), row(2 * y), row(2 * y + 1), row(2 * y + 2)] as const
    scratch.kernels.foldRows(source, rows, span(out, 4 * y * width), 4 * width)
  }
  return { data: out, width, height: half }
}

function withZeroRow({ data, width, height }: Rgba, scratch: Scratch, slot: Slot): Float32Array {
  const out = scratch.floats(slot, 4 * width * (height + 1))
  out.set(data.subarray(0, 4 * width * height))
  out.fill(0, 4 * width * height)
  return out
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

/** Enlarges a picture to twice its height, into another one. */
function doubleColumns(small: Rgba, large: Rgba, border: BorderMode, { kernels }: Scratch): void {
  const size = 4 * small.width
  for (let y = 0; y < large.height; y++) {
    const own = y >> 1
    const other = withinBorder(y & 1 ? own + 1 : own - 1, small.height, border)
    const to = large.data.subarray(y * size, (y + 1) * size)
    if (other >= 0) kernels.mixLines(small.data, [own * size, other * size], 0.25, to, 0, size)
    else for (let i = 0; i < size; i++) to[i] = 0.75 * small.data[own * size + i]!
  }
}

/** Enlarges a picture to twice its width, into another one. */
function doubleRows(small: Rgba, large: Rgba, border: BorderMode, scratch: Scratch): void {
  const { width: half } = small
  const line = scratch.floats(slots.line, 4 * (half + 2))
  const wide = scratch.floats(slots.wideLine, 8 * (half + 2))
  for (let y = 0; y < large.height; y++) {
    padded(small, y, 1, border, line)
    scratch.kernels.spreadPixels(span(line), span(wide), half + 1)
    large.data.set(wide.subarray(4, 4 + 4 * large.width), 4 * y * large.width)
  }
}
