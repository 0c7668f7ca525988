import { say } from '../say.ts'
import { convertIndexedToRgb, decode } from 'fast-png'
import { type StillPixels, stillOfLight } from '../pixels/buffers/still.ts'
import { toEncoded, toLinear } from '../pixels/colour/transfer.ts'
import { Refusal } from '../refusal.ts'

/** The first eight bytes of a PNG (PNG, third edition, 5.2). */
export const pngMagic = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]

/**
 * A PNG as its pixels. Grey, palette and pictures of fewer bits become the same; one of 16 bits comes with its light. What says by its
 * gamma that it holds light, as renderers write it, is taken as light. Throws a Refusal where it can not be read.
 */
export function pixelsOfPng(file: Uint8Array): StillPixels {
  let png: ReturnType<typeof decode>
  try {
    png = decode(file)
  } catch {
    throw new Refusal(say`The picture is damaged and can not be read. Bring it in again.`)
  }
  const { width, height, palette } = png
  const [values, channels] = palette
    ? [convertIndexedToRgb(png), palette[0]!.length]
    : [png.data as Uint8Array | Uint16Array, png.channels]
  // Fewer than 8 bits are grey levels up to 2^depth - 1.
  const most = palette ? 255 : 2 ** png.depth - 1
  const gamma = gammaOf(file)
  const spread = (out: Uint8Array | Float32Array, level: (v: number) => number, opacity: (v: number) => number) => {
    const whole = opacity(most)
    for (let i = 0, from = 0, to = 0; i < width * height; i++, from += channels, to += 4) {
      const grey = channels < 3
      out[to] = level(values[from]!)
      out[to + 1] = level(values[grey ? from : from + 1]!)
      out[to + 2] = level(values[grey ? from : from + 2]!)
      out[to + 3] = channels % 2 ? whole : opacity(values[from + channels - 1]!)
    }
  }
  if (most > 255) {
    const light = new Float32Array(4 * width * height)
    const of = (v: number) => (gamma === null ? toLinear(v / most) : (v / most) ** (1 / gamma))
    spread(light, tableOf(most, of, Float32Array), (v) => v / most)
    for (let i = 0; i < light.length; i++) if (i % 4 < 3) light[i]! *= light[i | 3]!
    return stillOfLight(light, width, height)
  }
  const rgba = new Uint8Array(4 * width * height)
  const opacity = most === 255 ? (v: number) => v : (v: number) => Math.round((v * 255) / most)
  const level = (v: number) => Math.round(255 * toEncoded((v / most) ** (1 / gamma!)))
  spread(rgba, gamma === null ? opacity : tableOf(most, level, Uint8Array), opacity)
  return { width, height, rgba }
}

/** Every level once: a picture has more pixels than there are levels. */
function tableOf(
  most: number,
  of: (v: number) => number,
  kind: Uint8ArrayConstructor | Float32ArrayConstructor,
): (v: number) => number {
  const table = new kind(most + 1)
  for (let v = 0; v <= most; v++) table[v] = of(v)
  return (v) => table[v]!
}

/** The exponent of codes that are encoded as sRGB is, about. */
const usualGamma = 1 / 2.2

/**
 * The exponent by which a PNG says that light was encoded (chunk gAMA: PNG, third edition, 11.3.2.2), where it is not about that of
 * sRGB; null where it says nothing, or names a colour space that counts more.
 */
function gammaOf(file: Uint8Array): number | null {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength)
  let gamma: number | null = null
  for (let at = 8; at + 12 <= file.length;) {
    const length = view.getUint32(at)
    const name = String.fromCharCode(...file.subarray(at + 4, at + 8))
    if (['sRGB', 'iCCP', 'cICP'].includes(name)) return null
    if (name === 'IDAT') break
    if (name === 'gAMA' && length === 4) gamma = view.getUint32(at + 8) / 100_000
    at += 12 + length
  }
  return gamma && gamma < 10 && Math.abs(gamma - usualGamma) > 0.05 ? gamma : null
}
