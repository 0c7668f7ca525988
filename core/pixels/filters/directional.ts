import type { Rgba } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'

const slots = { around: new Slot(), line: new Slot() }

/**
 * Blurs a picture in place along a direction (`angle` in radians, 0 sideways, clockwise on screen), close to a Gaussian of
 * `sigma` pixels. Three taps [1 2 1] / 4 at a distance that doubles from pass to pass make a triangle exactly (the product
 * of cos^2 at doubling frequencies is a squared sinc); two rounds of it make a bell. Past its edges the picture stays as at
 * the edge.
 */
export function blurAlong(picture: Rgba, sigma: number, angle: number, scratch: Scratch): void {
  if (sigma < 0.05) return
  const { data } = picture
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  // n passes at distances d, 2d, ... have the variance d^2 (4^n - 1) / 6; two rounds twice that.
  let passes = 1
  while ((2 * (4 ** passes - 1)) / 6 < sigma * sigma) passes++
  const first = sigma / Math.sqrt((2 * (4 ** passes - 1)) / 6)
  const around = { ...picture, data: scratch.floats(slots.around, data.length) }
  for (let round = 0; round < 2; round++)
    for (let k = 0; k < passes; k++) {
      const step = first * 2 ** k
      around.data.set(data)
      data.fill(0)
      addShifted(around, data, 0, 0, 0.5, scratch)
      for (const way of [-step, step]) addShifted(around, data, way * dx, way * dy, 0.25, scratch)
    }
}

/** out += share * the picture moved by (-x, -y), sampled bilinearly, its edges stretched. */
function addShifted(
  { data, width, height }: Rgba,
  out: Float32Array,
  x: number,
  y: number,
  share: number,
  scratch: Scratch,
): void {
  const [left, top] = [Math.floor(x), Math.floor(y)]
  const [u, v] = [x - left, y - top]
  const size = 4 * width
  const line = scratch.floats(slots.line, size + 8)
  const rows = [top, top + 1] as const
  const weights = [1 - v, v] as const
  for (let row = 0; row < height; row++)
    for (const k of [0, 1] as const) {
      if (weights[k] === 0) continue
      const from = Math.min(height - 1, Math.max(0, row + rows[k])) * size
      shiftInto(line, data, from, width, left)
      const weight = share * weights[k]
      scratch.kernels.addScaled(span(line), span(out, row * size), size, weight * (1 - u))
      if (u > 0) scratch.kernels.addScaled(span(line, 4), span(out, row * size), size, weight * u)
    }
}

/** One pixel more than the row, beginning `left` pixels on, with the end pixels repeated. */
function shiftInto(line: Float32Array, data: Float32Array, from: number, width: number, left: number): void {
  const start = Math.min(width - 1, Math.max(0, left))
  const end = Math.min(width, Math.max(0, left + width + 1))
  const before = Math.min(width + 1, Math.max(0, -left))
  if (end > start) line.set(data.subarray(from + 4 * start, from + 4 * end), 4 * before)
  const first = data.subarray(from, from + 4)
  const last = data.subarray(from + 4 * (width - 1), from + 4 * width)
  for (let i = 0; i < before; i++) line.set(first, 4 * i)
  for (let i = before + Math.max(0, end - start); i <= width; i++) line.set(last, 4 * i)
}
