import { linearOf8Bit, to8Bit } from '../colour/transfer.ts'
import { i420Layout, rgbaToI420, type Yuv } from './yuv.ts'

/**
 * A picture of RGBA bytes with straight alpha as a frame: its own pixels, and, for all that reads frames of video only,
 * the same laid on black as I420 (limited range, BT.709). `room` makes the bytes of the latter.
 */
export function frameOfRgba(
  rgba: Uint8Array,
  width: number,
  height: number,
  room: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
): Yuv {
  const { bytes, planes } = i420Layout(width, height)
  const data = room(bytes)
  rgbaToI420(onBlack(rgba), width, height, data)
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0, rgba }
}

/** Opaque pixels: each over black, in linear light. */
function onBlack(rgba: Uint8Array): Uint8Array {
  const out = rgba.slice()
  for (let i = 0; i < out.length; i += 4) {
    const alpha = out[i + 3]!
    if (alpha === 255) continue
    for (let c = 0; c < 3; c++) out[i + c] = to8Bit((linearOf8Bit[out[i + c]!]! * alpha) / 255)
    out[i + 3] = 255
  }
  return out
}

/**
 * RGBA bytes reduced by 1, 2 or 4 as words into `out` (ceil(width / reduce) x ceil(height / reduce)): means in linear
 * light, weighted by alpha. `opaque`: on black.
 */
export function reducedRgba(
  rgba: Uint8Array,
  width: number,
  height: number,
  reduce: number,
  opaque: boolean,
  out: Uint32Array,
): void {
  const [w, h] = [Math.ceil(width / reduce), Math.ceil(height / reduce)]
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let [r, g, b, alpha, count] = [0, 0, 0, 0, 0]
      for (let v = y * reduce; v < Math.min(height, (y + 1) * reduce); v++)
        for (let u = x * reduce; u < Math.min(width, (x + 1) * reduce); u++) {
          const at = 4 * (v * width + u)
          const a = rgba[at + 3]!
          r += linearOf8Bit[rgba[at]!]! * a
          g += linearOf8Bit[rgba[at + 1]!]! * a
          b += linearOf8Bit[rgba[at + 2]!]! * a
          alpha += a
          count++
        }
      // Straight alpha: a colour is the mean of what is there; on black what is not there counts as black.
      const weight = opaque ? 255 * count : alpha
      const level = (sum: number) => (weight ? to8Bit(sum / weight) : 0)
      const a = opaque ? 255 : Math.round(alpha / count)
      out[y * w + x] = ((a << 24) | (level(b) << 16) | (level(g) << 8) | level(r)) >>> 0
    }
}
