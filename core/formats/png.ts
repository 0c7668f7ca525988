import { convertIndexedToRgb, decode } from 'fast-png'
import { toEncoded } from '../pixels/colour/transfer.ts'
import { Refusal } from '../refusal.ts'

/**
 * A PNG as RGBA bytes with straight alpha, row by row, as sRGB codes. Grey, palette and 16-bit pictures become the same; what says
 * by its gamma that it holds light, as renderers write it with 16 bits, is taken as light. Throws an Error with a sentence
 * where it can not be read.
 */
export function rgbaOfPng(file: Uint8Array): { data: Uint8Array; width: number; height: number } {
  let png: ReturnType<typeof decode>
  try {
    png = decode(file)
  } catch {
    throw new Refusal('The picture is damaged and can not be read. Bring it in again.')
  }
  const { width, height, palette } = png
  const [values, channels] = palette
    ? [convertIndexedToRgb(png), palette[0]!.length]
    : [png.data as Uint8Array | Uint16Array, png.channels]
  // Fewer than 8 bits are grey levels up to 2^depth - 1.
  const most = palette ? 255 : 2 ** png.depth - 1
  const data = new Uint8Array(4 * width * height)
  const opacity = most === 255 ? (v: number) => v : (v: number) => Math.round((v * 255) / most)
  const gamma = gammaOf(file)
  const level = gamma === null ? opacity : tableOf(most, (v) => 255 * toEncoded((v / most) ** (1 / gamma)))
  for (let i = 0, from = 0, to = 0; i < width * height; i++, from += channels, to += 4) {
    const grey = channels < 3
    data[to] = level(values[from]!)
    data[to + 1] = level(values[grey ? from : from + 1]!)
    data[to + 2] = level(values[grey ? from : from + 2]!)
    data[to + 3] = channels % 2 ? 255 : opacity(values[from + channels - 1]!)
  }
  return { data, width, height }
}

/** Every level once: a picture has more pixels than there are levels. */
function tableOf(most: number, of: (v: number) => number): (v: number) => number {
  const table = Uint8Array.from({ length: most + 1 }, (_, v) => Math.round(of(v)))
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
