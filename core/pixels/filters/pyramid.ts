import { type BorderMode, withinBorder } from '../buffers/border.ts'
import type { Rgba } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'

const slots = { line: new Slot(), wideLine: new Slot() }

/** A row of a picture with `pad` more pixels on both sides as the border says, in `line`. */
export function padded({ data, width }: Rgba, row: number, pad: number, border: BorderMode, line: Float32Array): void {
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
export function halveRows(picture: Rgba, border: BorderMode, scratch: Scratch, slot: Slot): Rgba {
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
export function halveColumns(picture: Rgba, border: BorderMode, scratch: Scratch, slot: Slot): Rgba {
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

/** Enlarges a picture to twice its height, into another one. */
export function doubleColumns(small: Rgba, large: Rgba, border: BorderMode, { kernels }: Scratch): void {
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
export function doubleRows(small: Rgba, large: Rgba, border: BorderMode, scratch: Scratch): void {
  const { width: half } = small
  const line = scratch.floats(slots.line, 4 * (half + 2))
  const wide = scratch.floats(slots.wideLine, 8 * (half + 2))
  for (let y = 0; y < large.height; y++) {
    padded(small, y, 1, border, line)
    scratch.kernels.spreadPixels(span(line), span(wide), half + 1)
    large.data.set(wide.subarray(4, 4 + 4 * large.width), 4 * y * large.width)
  }
}
