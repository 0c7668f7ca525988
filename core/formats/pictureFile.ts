import { encode } from 'fast-png'
import { toEncoded } from '../pixels/colour/transfer.ts'
import { exrOf } from './exrFile.ts'

/** How a picture is coded in a file of its own, or of a sequence. */
export type PictureCoding = 'png' | 'png16' | 'exr'

/** A picture that goes out. */
export interface GoingPicture {
  width: number
  height: number
  /** sRGB codes with straight alpha, RGBA, one 32-bit word a pixel (R in the lowest byte). */
  words: Uint32Array
  /** The same as linear light, RGBA premultiplied by alpha, 1 for white: needed where it is coded with more than 8 bits. */
  light?: Float32Array
}

/** What of it is written: a matte, or three of them, is coverage, which has no colour and is not encoded; alpha where something is clear. */
export interface PictureForm {
  channels: 'matte' | 'mattes' | 'rgb' | 'rgba'
  /** Whether colours are multiplied by their alpha. OpenEXR always has them so, by its definition. */
  premultiplied?: boolean
  /** The larger picture that it is a part of, and where in that its first pixel lies: OpenEXR says so in the file. */
  within?: { x: number; y: number; width: number; height: number }
}

/** Whether a coding needs the light of a picture. */
export const isDeep = (coding: PictureCoding): boolean => coding !== 'png'

/** How hard deflate tries: more than twice as fast as its usual 6 for a seventh more bytes (measured on a drawn plate). */
const packing = 4

/** A picture as the bytes of a file. */
export function pictureFile(picture: GoingPicture, coding: PictureCoding, form: PictureForm): Uint8Array {
  const { width, height } = picture
  if (coding === 'exr')
    return exrOf(
      picture.light!,
      width,
      height,
      ({ matte: ['Y'], mattes: ['B', 'G', 'R'], rgb: ['B', 'G', 'R'], rgba: ['A', 'B', 'G', 'R'] } as const)[
        form.channels
      ],
      form.within,
    )
  const channels = ({ matte: 1, mattes: 3, rgb: 3, rgba: 4 } as const)[form.channels]
  const data = coding === 'png' ? bytesOf(picture, channels, form) : levelsOf(picture.light!, channels, form)
  return encode({ width, height, data, channels, depth: coding === 'png' ? 8 : 16 }, { zlib: { level: packing } })
}

function bytesOf({ words }: GoingPicture, channels: 1 | 3 | 4, { premultiplied }: PictureForm): Uint8Array {
  const out = new Uint8Array(channels * words.length)
  for (let i = 0, to = 0; i < words.length; i++, to += channels) {
    const word = words[i]!
    const alpha = word >>> 24
    for (let c = 0; c < Math.min(3, channels); c++) {
      const code = (word >>> (8 * c)) & 255
      out[to + c] = premultiplied && channels === 4 ? Math.round((code * alpha) / 255) : code
    }
    if (channels === 4) out[to + 3] = alpha
  }
  return out
}

/** Levels from 0 to 65535 of premultiplied light: of coverage as it is, of colours as sRGB encodes them. */
export function levelsOf(light: Float32Array, channels: 1 | 3 | 4, form: PictureForm): Uint16Array {
  const count = light.length / 4
  const out = new Uint16Array(channels * count)
  const level = (v: number) => Math.round(65535 * Math.max(0, Math.min(1, v)))
  for (let i = 0, from = 0, to = 0; i < count; i++, from += 4, to += channels) {
    if (form.channels === 'matte' || form.channels === 'mattes') {
      for (let c = 0; c < channels; c++) out[to + c] = level(light[from + c]!)
      continue
    }
    const alpha = channels === 4 ? light[from + 3]! : 1
    for (let c = 0; c < 3; c++) {
      const code = alpha > 0 ? toEncoded(Math.min(1, light[from + c]! / alpha)) : 0
      out[to + c] = level(form.premultiplied ? code * alpha : code)
    }
    if (channels === 4) out[to + 3] = level(alpha)
  }
  return out
}
