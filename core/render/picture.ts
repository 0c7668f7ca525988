import type { PictureNeed } from '../effects/effect.ts'
import type { Rect } from '../geometry/rect.ts'
import type { Rgba } from '../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { rgbaToI420 } from '../pixels/buffers/yuv.ts'
import { encode8BitTable, encodeSteps, linearOf8Bit, quickEncoded, quickLinear } from '../pixels/colour/transfer.ts'
import { fitted } from '../pixels/filters/fit.ts'

const slots = {
  copyWords: new Slot(),
  copyLight: new Slot(),
  pictureOf: new Slot(),
  toBeFitted: new Slot(),
  fittedWords: new Slot(),
  fittedLight: new Slot(),
}

/**
 * A picture of opaque or straight-alpha sRGB-encoded bytes, one 32-bit word a pixel (R in the lowest byte). Its words,
 * like the data of a Yuv and every other array given to this file, come from the scratch that is given along.
 */
export interface Picture {
  words: Uint32Array
  /** Whether its alpha counts, as in a still that is inserted; else it is opaque. */
  alpha?: boolean
  /** Its linear light, RGBA premultiplied by alpha, where more of it is known than its words hold. Effects change both. */
  light?: Float32Array
  width: number
  height: number
}

/** Gives pictures of other frames that effects asked for, at the scale that is worked at; null where there is none. */
export type OtherPictures = (need: PictureNeed) => Picture | null

/** A picture in buffers of a scratch: others are made in one place each, and what was given must not be lost to the next one. */
export function copyOf(picture: Picture, room: Scratch): Picture {
  const copy = { ...picture, words: room.words(slots.copyWords, picture.words.length) }
  copy.words.set(picture.words)
  if (picture.light) {
    copy.light = room.floats(slots.copyLight, picture.light.length)
    copy.light.set(picture.light)
  }
  return copy
}
/** Another picture as working values, in a buffer of its own. */
export function workingPicture(
  picture: Picture | null,
  need: PictureNeed,
  light: 'linear' | 'display',
  scratch: Scratch,
): Rgba | null {
  if (!picture) return null
  const { width, height } = picture
  return { data: workingPart(picture, { x: 0, y: 0, width, height }, need, light, scratch), width, height }
}

/** A part of another picture as working values, in the same buffer. */
export function workingPart(
  picture: Picture,
  part: Rect,
  need: PictureNeed,
  light: 'linear' | 'display',
  scratch: Scratch,
): Float32Array {
  const { width, height } = part
  const data = scratch.floats(slots.pictureOf.part(need.media), width * height * 4)
  decode(picture, part, data, light, scratch)
  // Light is premultiplied already.
  if (!picture.alpha || picture.light) return data
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0, at = (part.y + y) * picture.width + part.x; x < width; x++, i += 4, at++) {
      const alpha = picture.words[at]! >>> 24
      if (alpha < 255) for (let c = 0; c < 4; c++) data[i + c]! *= alpha / 255
    }
  return data
}
/** A picture as I420 for a video file, cut to an even size. */
export function pictureToI420({ words, width, height }: Picture, out: Uint8Array): void {
  const [w, h] = [width & ~1, height & ~1]
  let even = words
  if (w !== width || h !== height) {
    even = new Uint32Array(w * h)
    for (let y = 0; y < h; y++) even.set(words.subarray(y * width, y * width + w), y * w)
  }
  rgbaToI420(new Uint8Array(even.buffer, even.byteOffset, even.byteLength), w, h, out)
}

/** A picture as large as it fits into another size, in its middle, on black; itself where it has that size. */
export function fittedPicture(picture: Picture, size: { width: number; height: number }, scratch: Scratch): Picture {
  if (picture.width === size.width && picture.height === size.height) return picture
  const data = scratch.floats(slots.toBeFitted, 4 * picture.width * picture.height)
  decode(picture, { x: 0, y: 0, width: picture.width, height: picture.height }, data, 'linear', scratch)
  const out: Picture = { words: scratch.words(slots.fittedWords, size.width * size.height), ...size }
  if (picture.light) out.light = scratch.floats(slots.fittedLight, 4 * size.width * size.height)
  const given = { data, width: picture.width, height: picture.height }
  encode(fitted(given, size, scratch), { x: 0, y: 0, ...size }, out, 'linear', scratch)
  return out
}
const plain = Float32Array.from({ length: 256 }, (_, i) => i / 255)
const plainBack = Uint8Array.from({ length: encodeSteps + 1 }, (_, i) => Math.round((i / encodeSteps) * 255))
/** Encoded levels to working values and back, by how the project blends. */
export const tables = {
  linear: { working: linearOf8Bit, back: encode8BitTable },
  display: { working: plain, back: plainBack },
}

/** Working values of a region of a picture. */
export function decode(
  { words, light, width }: Picture,
  region: Rect,
  data: Float32Array,
  by: 'linear' | 'display',
  { kernels }: Scratch,
): void {
  for (let y = 0; y < region.height; y++) {
    const from = (region.y + y) * width + region.x
    const to = 4 * y * region.width
    if (!light) kernels.wordsToFloats(words, from, region.width, tables[by].working, data, to)
    else {
      const row = data.subarray(to, to + 4 * region.width)
      row.set(light.subarray(4 * from, 4 * (from + region.width)))
      if (by === 'display') throughAlpha(row, quickEncoded)
    }
  }
}

/** Working values of a region back into its picture. */
export function encode(
  data: Float32Array,
  region: Rect,
  { words, light, width }: Picture,
  by: 'linear' | 'display',
  { kernels }: Scratch,
): void {
  for (let y = 0; y < region.height; y++) {
    const to = (region.y + y) * width + region.x
    const from = 4 * y * region.width
    kernels.floatsToWords(data, from, region.width, tables[by].back, words, to)
    if (!light) continue
    const row = light.subarray(4 * to, 4 * (to + region.width))
    row.set(data.subarray(from, from + 4 * region.width))
    if (by === 'display') throughAlpha(row, quickLinear)
  }
}

/** Takes premultiplied colours through a curve of what they are unmultiplied; light of nothing that covers as it is. */
function throughAlpha(row: Float32Array, curve: (v: number) => number): void {
  for (let i = 0; i < row.length; i += 4) {
    const alpha = row[i + 3]! || 1
    for (let c = i; c < i + 3; c++) row[c] = curve(row[c]! / alpha) * alpha
  }
}
