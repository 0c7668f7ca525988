import { gaussianKernel } from './gaussian.ts'
import { withinEdge, type Edge, type Kernels } from '../kernels/kernels.ts'
import type { Scratch } from '../buffers/scratch.ts'

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
 * Blurs an RGBA picture in place with a Gaussian of `sigmaX` and `sigmaY` pixels. Wide ones work on reduced copies.
 * `edge` says what lies around the picture; on a reduced copy that goes by cells, so a stretched edge is the mean of its
 * last few pixels. `data` comes from the scratch.
 */
export function blurPicture(
  data: Float32Array,
  width: number,
  height: number,
  sigmaX: number,
  sigmaY: number,
  edge: Edge,
  scratch: Scratch,
): void {
  const [levelX, levelY] = [halvings(sigmaX), halvings(sigmaY)]
  const { kernels } = scratch
  let [picture, w, h] = [data, width, height]
  const sizes: { w: number; h: number }[] = []
  for (let k = 1; k <= levelX; k++) {
    sizes.push({ w, h })
    ;[picture, w] = halveRows(picture, w, h, edge, scratch, `blur across ${k}`)
  }
  for (let k = 1; k <= levelY; k++) {
    sizes.push({ w, h })
    ;[picture, h] = halveColumns(picture, w, h, edge, scratch, `blur down ${k}`)
  }
  const [x, y] = [restOf(sigmaX, levelX), restOf(sigmaY, levelY)]
  if (x >= 0.05) weighRows(picture, w, h, gaussianKernel(x), edge, scratch)
  if (y >= 0.05) weighColumns(picture, w, h, gaussianKernel(y), edge, scratch)
  for (let k = levelY; k >= 1; k--) {
    const size = sizes.pop()!
    const out =
      k === 1 && levelX === 0
        ? data
        : scratch.floats(k === 1 ? `blur across ${levelX}` : `blur down ${k - 1}`, 4 * size.w * size.h)
    doubleColumns(picture, size.w, h, out, size.h, edge, kernels)
    ;[picture, h] = [out, size.h]
  }
  for (let k = levelX; k >= 1; k--) {
    const size = sizes.pop()!
    const out = k === 1 ? data : scratch.floats(`blur across ${k - 1}`, 4 * size.w * size.h)
    doubleRows(picture, w, size.h, out, size.w, edge, scratch)
    ;[picture, w] = [out, size.w]
  }
}

/** A row of RGBA pixels with `pad` more on both sides as the edge says, in `line`. */
function padded(data: Float32Array, row: number, width: number, pad: number, edge: Edge, line: Float32Array): void {
  const start = 4 * row * width
  line.set(data.subarray(start, start + 4 * width), 4 * pad)
  for (let k = 1; k <= pad; k++) {
    putPixel(data, start, withinEdge(-k, width, edge), line, 4 * (pad - k))
    putPixel(data, start, withinEdge(width - 1 + k, width, edge), line, 4 * (pad + width - 1 + k))
  }
}

function putPixel(data: Float32Array, start: number, column: number, line: Float32Array, to: number): void {
  for (let c = 0; c < 4; c++) line[to + c] = column < 0 ? 0 : data[start + 4 * column + c]!
}

function halveRows(
  ...[data, width, height, edge, scratch, name]: [Float32Array, number, number, Edge, Scratch, string]
): [Float32Array, number] {
  const half = (width + 1) >> 1
  const out = scratch.floats(name, 4 * half * height)
  const line = scratch.floats('blur line', 4 * (width + 4))
  for (let y = 0; y < height; y++) {
    padded(data, y, width, 2, edge, line)
    scratch.kernels.foldPixels(line, 4, out, 4 * y * half, half)
  }
  return [out, half]
}

/** The row that stands for row `y`, as a place in `data`; where there is none, a row of zeros at its end. */
const rowAt = (y: number, width: number, height: number, edge: Edge): number => {
  const row = withinEdge(y, height, edge)
  return 4 * width * (row < 0 ? height : row)
}

function halveColumns(
  ...[data, width, height, edge, scratch, name]: [Float32Array, number, number, Edge, Scratch, string]
): [Float32Array, number] {
  const half = (height + 1) >> 1
  const out = scratch.floats(name, 4 * width * (half + 1))
  const source = edge === 'nothing' ? withZeroRow(data, width, height, scratch, `${name} and nothing`) : data
  const row = (y: number) => rowAt(y, width, height, edge)
  for (let y = 0; y < half; y++)
    scratch.kernels.foldRows(
      ...([source, row(2 * y - 1), row(2 * y), row(2 * y + 1), row(2 * y + 2)] as const),
      ...([out, 4 * y * width, 4 * width] as const),
    )
  return [out, half]
}

function withZeroRow(data: Float32Array, width: number, height: number, scratch: Scratch, name: string): Float32Array {
  const out = scratch.floats(name, 4 * width * (height + 1))
  out.set(data.subarray(0, 4 * width * height))
  out.fill(0, 4 * width * height)
  return out
}

/** Convolves every row in place with a symmetric kernel (values at 0, 1, 2, ...). */
export function weighRows(
  ...[data, width, height, kernel, edge, scratch]: [Float32Array, number, number, Float32Array, Edge, Scratch]
): void {
  const pad = kernel.length - 1
  const weights = scratch.floats('blur weights', kernel.length)
  weights.set(kernel)
  const line = scratch.floats('blur line', 4 * (width + 2 * pad))
  for (let y = 0; y < height; y++) {
    padded(data, y, width, pad, edge, line)
    scratch.kernels.weighRow(line, 4 * pad, 4, weights, data, 4 * y * width, 4 * width)
  }
}

/** The same down the columns. */
export function weighColumns(
  ...[data, width, height, kernel, edge, scratch]: [Float32Array, number, number, Float32Array, Edge, Scratch]
): void {
  const pad = kernel.length - 1
  const weights = scratch.floats('blur weights', kernel.length)
  weights.set(kernel)
  const size = 4 * width
  const rows = scratch.floats('blur rows', size * (height + 2 * pad))
  rows.set(data.subarray(0, size * height), size * pad)
  for (let k = 0; k < pad; k++)
    for (const [to, from] of [
      [k, withinEdge(k - pad, height, edge)],
      [pad + height + k, withinEdge(height + k, height, edge)],
    ] as const)
      if (from < 0) rows.fill(0, to * size, (to + 1) * size)
      else rows.copyWithin(to * size, (pad + from) * size, (pad + from + 1) * size)
  for (let y = 0; y < height; y++) scratch.kernels.weighRow(rows, size * (pad + y), size, weights, data, y * size, size)
}

function doubleColumns(
  ...[data, width, half, out, height, edge, kernels]: [
    Float32Array,
    number,
    number,
    Float32Array,
    number,
    Edge,
    Kernels,
  ]
): void {
  const size = 4 * width
  for (let y = 0; y < height; y++) {
    const own = y >> 1
    const other = withinEdge(y & 1 ? own + 1 : own - 1, half, edge)
    const to = out.subarray(y * size, (y + 1) * size)
    if (other >= 0) kernels.mixLines(data, own * size, other * size, 0.25, to, 0, size)
    else for (let i = 0; i < size; i++) to[i] = 0.75 * data[own * size + i]!
  }
}

function doubleRows(
  ...[data, half, height, out, width, edge, scratch]: [
    Float32Array,
    number,
    number,
    Float32Array,
    number,
    Edge,
    Scratch,
  ]
): void {
  const line = scratch.floats('blur line', 4 * (half + 2))
  const wide = scratch.floats('blur wide line', 8 * (half + 2))
  for (let y = 0; y < height; y++) {
    padded(data, y, half, 1, edge, line)
    scratch.kernels.spreadPixels(line, 0, wide, 0, half + 1)
    out.set(wide.subarray(4, 4 + 4 * width), 4 * y * width)
  }
}
