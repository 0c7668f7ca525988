import type { Rgba } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'

const slots = { discSums: new Slot(), discLine: new Slot() }

/**
 * Blurs a picture in place with a disc of `radius` pixels: per row of the disc one span, read from running sums.
 * The disc's edge is as soft as its half span is fractional. Past its edges the picture stays as at the edge.
 */
export function blurDisc({ data, width, height }: Rgba, radius: number, scratch: Scratch): void {
  if (radius < 0.5) return
  const reach = Math.ceil(radius)
  const rows: { dy: number; half: number }[] = []
  for (let dy = -reach; dy <= reach; dy++) {
    const half = Math.sqrt(Math.max(0, radius * radius - dy * dy))
    if (half > 0 || dy === 0) rows.push({ dy, half })
  }
  // A span of 2 half + 1 pixels on average: whole pixels, and a share of the next one on both sides.
  const total = rows.reduce((sum, { half }) => sum + 2 * half + 1, 0)
  const pad = reach + 2
  const wide = width + 2 * pad
  const sums = scratch.floats(slots.discSums, 4 * (wide + 1) * height)
  const line = scratch.floats(slots.discLine, 4 * wide)
  for (let y = 0; y < height; y++) {
    const start = 4 * y * width
    line.set(data.subarray(start, start + 4 * width), 4 * pad)
    for (let k = 0; k < pad; k++)
      for (let c = 0; c < 4; c++) {
        line[4 * k + c] = data[start + c]!
        line[4 * (pad + width + k) + c] = data[start + 4 * (width - 1) + c]!
      }
    scratch.kernels.sumPixels(span(line), span(sums, 4 * y * (wide + 1)), wide)
  }
  data.fill(0)
  for (let y = 0; y < height; y++)
    for (const { dy, half } of rows) {
      const row = Math.min(height - 1, Math.max(0, y + dy)) * (wide + 1)
      const whole = Math.floor(half)
      const part = half - whole
      const spanFrom = (k: number) => 4 * (row + pad - k)
      // (1 - part) of the narrower span and part of the one a pixel wider on both sides.
      scratch.kernels.addSpans(
        span(sums, spanFrom(whole)),
        2 * whole + 1,
        span(data, 4 * y * width),
        width,
        (1 - part) / total,
      )
      if (part > 0)
        scratch.kernels.addSpans(
          span(sums, spanFrom(whole + 1)),
          2 * whole + 3,
          span(data, 4 * y * width),
          width,
          part / total,
        )
    }
}
