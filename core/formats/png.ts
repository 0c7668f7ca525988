import { convertIndexedToRgb, decode } from 'fast-png'
import { Refusal } from '../refusal.ts'

/**
 * A PNG as RGBA bytes with straight alpha, row by row, taken as sRGB. Grey, palette and 16-bit pictures become the same.
 * Throws an Error with a sentence where it can not be read.
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
  const level = (v: number) => (most === 255 ? v : Math.round((v * 255) / most))
  for (let i = 0, from = 0, to = 0; i < width * height; i++, from += channels, to += 4) {
    const grey = channels < 3
    data[to] = level(values[from]!)
    data[to + 1] = level(values[grey ? from : from + 1]!)
    data[to + 2] = level(values[grey ? from : from + 2]!)
    data[to + 3] = channels % 2 ? 255 : level(values[from + channels - 1]!)
  }
  return { data, width, height }
}
