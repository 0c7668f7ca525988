import { linearOf8Bit, to8Bit } from './transfer.ts'

/** Linear light as '#rrggbb'; what is beyond 0..1 is cut. */
export const hexOf = (linear: readonly number[]): string =>
  `#${linear.map((v) => to8Bit(v).toString(16).padStart(2, '0')).join('')}`

/**
 * Mean colour of a square of pixels about (x, y), in linear light, as '#rrggbb': of RGBA bytes, row by row. `reach` pixels
 * on each side count, as far as the picture goes; the nearest pixel for a place outside.
 */
export function meanColour(
  { pixels, width, height }: { pixels: Uint8ClampedArray; width: number; height: number },
  [x, y]: [number, number],
  reach: number,
): string {
  const within = (v: number, size: number) => Math.max(0, Math.min(size - 1, v))
  const [px, py] = [within(Math.floor(x), width), within(Math.floor(y), height)]
  const sum = [0, 0, 0]
  let count = 0
  for (let row = within(py - reach, height); row <= within(py + reach, height); row++)
    for (let column = within(px - reach, width); column <= within(px + reach, width); column++, count++)
      for (let c = 0; c < 3; c++) sum[c]! += linearOf8Bit[pixels[4 * (row * width + column) + c]!]!
  return hexOf(sum.map((v) => v / count))
}
