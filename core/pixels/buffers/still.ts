import { linearOf8Bit, to8Bit } from '../colour/transfer.ts'
import { i420Layout, rgbaToI420, type Yuv } from './yuv.ts'

/** The pixels of a picture file, row by row. */
export interface StillPixels {
  width: number
  height: number
  /** RGBA bytes with straight alpha, as sRGB codes. */
  rgba: Uint8Array
  /** Where the file holds more than bytes do: its linear light, RGBA premultiplied by alpha, 1 for white and more than that. */
  light?: Float32Array
}

/** The most that a half float holds. What is brighter, or no number, is an accident of whoever wrote it. */
const brightest = 65504

/** Pixels by their linear light, RGBA premultiplied by alpha, which is bounded in place: no light is less than none. */
export function stillOfLight(light: Float32Array, width: number, height: number): StillPixels {
  for (let i = 0; i < light.length; i++) {
    const most = i % 4 === 3 ? 1 : brightest
    light[i] = light[i]! > 0 ? Math.min(light[i]!, most) : 0
  }
  const rgba = new Uint8Array(light.length)
  writeCodes(light, rgba)
  return { width, height, rgba, light }
}

/** Premultiplied light as bytes with straight alpha. */
function writeCodes(light: Float32Array, rgba: Uint8Array): void {
  for (let i = 0; i < light.length; i += 4) {
    const alpha = light[i + 3]!
    for (let c = 0; c < 3; c++) rgba[i + c] = alpha > 0 ? to8Bit(light[i + c]! / alpha) : 0
    rgba[i + 3] = Math.round(255 * alpha)
  }
}

/**
 * A picture file as a frame: its own pixels, and, for all that reads frames of video only, the same laid on black as I420 (limited range,
 * BT.709). `room` makes all its bytes.
 */
export function frameOfStill(
  { width, height, rgba, light }: StillPixels,
  room: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
): Yuv {
  const { bytes, planes } = i420Layout(width, height)
  const data = room(bytes)
  rgbaToI420(onBlack(rgba), width, height, data)
  const own = room(rgba.length)
  own.set(rgba)
  const frame: Yuv = { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0, rgba: own }
  if (!light) return frame
  const ownLight = new Float32Array(room(light.byteLength).buffer)
  ownLight.set(light)
  return { ...frame, light: ownLight }
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

/**
 * The same of premultiplied light: means into `out` (4 numbers a pixel), and as words with straight alpha into `words`. `opaque`: on black.
 */
export function reducedLight(
  light: Float32Array,
  width: number,
  height: number,
  reduce: number,
  opaque: boolean,
  out: Float32Array,
  words: Uint32Array,
): void {
  const [w, h] = [Math.ceil(width / reduce), Math.ceil(height / reduce)]
  for (let y = 0, to = 0; y < h; y++)
    for (let x = 0; x < w; x++, to += 4) {
      let [r, g, b, alpha, count] = [0, 0, 0, 0, 0]
      for (let v = y * reduce; v < Math.min(height, (y + 1) * reduce); v++)
        for (let u = x * reduce; u < Math.min(width, (x + 1) * reduce); u++) {
          const at = 4 * (v * width + u)
          r += light[at]!
          g += light[at + 1]!
          b += light[at + 2]!
          alpha += light[at + 3]!
          count++
        }
      out[to] = r / count
      out[to + 1] = g / count
      out[to + 2] = b / count
      out[to + 3] = opaque ? 1 : alpha / count
    }
  writeCodes(out, new Uint8Array(words.buffer, words.byteOffset, words.byteLength))
}
