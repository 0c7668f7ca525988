import { intersect, isEmpty } from '../geometry/rect.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import type { Region } from '../records/types.ts'
import { decode, encode, type OtherPictures, type Picture } from './picture.ts'
import { coverOf, regionMatte } from './region.ts'
import type { Scene } from './scene.ts'
import { holeBounds, takeOut } from './surroundings.ts'

const slots = { lookMatte: new Slot(), clean: new Slot() }

/** Ways of looking at a frame that are pictures of their own. */
export type DrawnView = 'matte' | 'cutout' | 'clean' | 'difference'

/** The matte of some members and parts together, or of where an effect works, over a whole picture of this size at `scale`. */
function wholeMatte(
  scene: Scene,
  whose: readonly string[] | Region,
  frame: number,
  scale: number,
  size: Size,
  scratch: Scratch,
) {
  const view = { time: frame, scale, rect: { x: 0, y: 0, ...size } }
  if ('of' in whose) return regionMatte(scene, whose, view, scratch, slots.lookMatte)
  return coverOf(scene, whose, view, scratch, slots.lookMatte)
}

interface Size {
  width: number
  height: number
}

/** The matte in black and white, into the picture's words; into its light, where it has some, as it is. */
export function drawMatte(
  scene: Scene,
  whose: readonly string[] | Region,
  frame: number,
  scale: number,
  picture: Picture,
  scratch: Scratch,
) {
  const { words, light, width, height } = picture
  const matte = wholeMatte(scene, whose, frame, scale, { width, height }, scratch)
  for (let i = 0; i < words.length; i++) {
    const v = Math.round(matte[i]! * 255)
    words[i] = (0xff000000 | (v << 16) | (v << 8) | v) >>> 0
  }
  if (light) for (let i = 0; i < light.length; i++) light[i] = i % 4 === 3 ? 1 : matte[i >> 2]!
}

/** Side of the squares of the checkerboard at full size, in pixels, and their two greys. */
const square = 16
const greys = [92, 62] as const

/** The plate in `picture` where the matte is, over a checkerboard; blended on the encoded values. */
export function drawCutout(
  scene: Scene,
  whose: readonly string[] | Region,
  frame: number,
  scale: number,
  picture: Picture,
  scratch: Scratch,
) {
  const { words, width, height } = picture
  const matte = wholeMatte(scene, whose, frame, scale, { width, height }, scratch)
  const side = square * scale
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const cover = matte[i]!
      if (cover >= 0.999) continue
      const grey = greys[(Math.floor(x / side) + Math.floor(y / side)) & 1]!
      const word = words[i]!
      const mix = (v: number) => Math.round(grey + (v - grey) * cover)
      words[i] = (0xff000000 | (mix((word >> 16) & 255) << 16) | (mix((word >> 8) & 255) << 8) | mix(word & 255)) >>> 0
    }
}

/** The plate in `picture` without members and parts: what is behind them. */
export function drawClean(
  scene: Scene,
  of: readonly string[],
  frame: number,
  scale: number,
  picture: Picture,
  scratch: Scratch,
  others: OtherPictures,
): void {
  const { width, height } = picture
  const region = intersect(holeBounds(scene, of, frame, scale), { x: 0, y: 0, width, height })
  if (isEmpty(region)) return
  const data = scratch.floats(slots.clean, 4 * region.width * region.height)
  decode(picture, region, data, scene.light, scratch)
  takeOut(scene, of, { time: frame, scale }, { data, region }, scratch, others)
  encode(data, region, picture, scene.light, scratch)
}

/**
 * The opaque picture with the matte as its alpha: straight, its colours as they are wherever anything of it is seen; its light
 * premultiplied.
 */
export function cutOut(
  scene: Scene,
  whose: readonly string[] | Region,
  frame: number,
  scale: number,
  { words, light, width, height }: Picture,
  scratch: Scratch,
): void {
  const matte = wholeMatte(scene, whose, frame, scale, { width, height }, scratch)
  for (let i = 0; i < words.length; i++) {
    const alpha = Math.round(matte[i]! * 255)
    words[i] = alpha ? ((alpha << 24) | (words[i]! & 0xffffff)) >>> 0 : 0
  }
  if (light) for (let i = 0; i < light.length; i++) light[i]! *= matte[i >> 2]!
}

/** The picture laid over the plate by `strength`, 0 to 1, on the encoded values: to line shapes up through an effect. */
export function layOver({ words }: Picture, plate: Uint32Array, strength: number): void {
  for (let i = 0; i < words.length; i++) {
    const [a, b] = [words[i]!, plate[i]!]
    if (a === b) continue
    const mix = (shift: number) => {
      const under = (b >> shift) & 255
      return Math.round(under + (((a >> shift) & 255) - under) * strength) << shift
    }
    words[i] = (0xff000000 | mix(16) | mix(8) | mix(0)) >>> 0
  }
}

/** How much the difference is enlarged: a step of a few levels must be seen. */
const gain = 4

/** What changed from `before` to the picture, as brightness on black: the largest change of a channel, times four. */
export function drawDifference(picture: Picture, before: Uint32Array): void {
  const { words } = picture
  for (let i = 0; i < words.length; i++) {
    const [a, b] = [words[i]!, before[i]!]
    const most = Math.max(
      Math.abs((a & 255) - (b & 255)),
      Math.abs(((a >> 8) & 255) - ((b >> 8) & 255)),
      Math.abs(((a >> 16) & 255) - ((b >> 16) & 255)),
    )
    const v = Math.min(255, most * gain)
    words[i] = (0xff000000 | (v << 16) | (v << 8) | v) >>> 0
  }
}

/** Laid over an effect's region at this share: red, green and blue of the ember. */
const tint = [255, 180, 94] as const
const tintShare = 0.45

/** Tints where an effect works. */
export function tintRegion(
  scene: Scene,
  region: Region,
  frame: number,
  scale: number,
  { words, width, height }: Picture,
  scratch: Scratch,
): void {
  const matte = regionMatte(
    scene,
    region,
    { time: frame, scale: scale, rect: { x: 0, y: 0, width, height } },
    scratch,
    slots.lookMatte,
  )
  for (let i = 0; i < words.length; i++) {
    const share = matte[i]! * tintShare
    if (share <= 0) continue
    const word = words[i]!
    const mix = (shift: number, to: number) => {
      const v = (word >> shift) & 255
      return Math.round(v + (to - v) * share) << shift
    }
    words[i] = (0xff000000 | mix(16, tint[2]) | mix(8, tint[1]) | mix(0, tint[0])) >>> 0
  }
}

/** Hatches what is as bright as a file can hold in any channel, in stripes of 6 pixels. */
export function markClipped({ words, width }: Picture): void {
  for (let i = 0; i < words.length; i++) {
    const word = words[i]!
    if ((word & 255) < 255 && ((word >> 8) & 255) < 255 && ((word >> 16) & 255) < 255) continue
    const x = i % width
    const y = (i - x) / width
    if (((x + y) / 6) & 1) words[i] = 0xff5eb4ff
    else words[i] = 0xff000000
  }
}
