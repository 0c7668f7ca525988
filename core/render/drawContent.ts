import type { Scratch } from '../pixels/buffers/scratch.ts'
import { linearOf8Bit } from '../pixels/colour/transfer.ts'
import type { Region } from '../records/types.ts'
import type { Content } from './contents.ts'
import { renderFrame, renderLightAlone, withoutPictureEffects } from './frame.ts'
import type { OtherPictures, Picture } from './picture.ts'
import type { Scene } from './scene.ts'
import { cutOut, drawClean, drawMatte } from './views.ts'

export interface ContentOrder {
  frame: number
  content: Content
  /** Ids of the members and parts whose matte it is, or who are cut out together; the region that it is of; or for each of red, green and blue its own. */
  of: readonly string[] | Region | { channels: readonly (readonly string[])[] }
  /** Whether light has alpha; else it lies on black. */
  alpha: boolean
}

/** Makes of `picture`, which is the plate at `scale` or, for what is bare, words of 0, what goes out; its light as well, where it has some. */
export function drawContent(
  scene: Scene,
  { frame, content, of, alpha }: ContentOrder,
  scale: number,
  picture: Picture,
  scratch: Scratch,
  others: OtherPictures,
): void {
  switch (content) {
    case 'over':
      return void renderFrame(scene, frame, scale, picture, scratch, others)
    case 'light':
      if (alpha) return renderLightAlone(scene, frame, scale, picture, scratch, others)
      return void renderFrame(withoutPictureEffects(scene), frame, scale, picture, scratch, others)
    case 'matte':
      if ('channels' in of) return drawMattes(scene, of.channels, frame, scale, picture, scratch)
      return drawMatte(scene, of, frame, scale, picture, scratch)
    case 'cutout':
      return cutOut(scene, 'channels' in of ? of.channels.flat() : of, frame, scale, picture, scratch)
    case 'clean':
      return drawClean(scene, idsOf(of), frame, scale, picture, scratch, others)
    case 'plate':
  }
}

const idsOf = (of: ContentOrder['of']): readonly string[] =>
  'channels' in of ? of.channels.flat() : 'of' in of ? of.of : of

/** A matte in each channel: red, green, blue; black where there is none for it. */
function drawMattes(
  scene: Scene,
  channels: readonly (readonly string[])[],
  frame: number,
  scale: number,
  picture: Picture,
  scratch: Scratch,
): void {
  const { words, light } = picture
  const [together, lit] = [
    new Uint32Array(words.length).fill(0xff000000),
    light && new Float32Array(light.length).fill(1),
  ]
  for (let c = 0; c < 3; c++) {
    drawMatte(scene, channels[c] ?? [], frame, scale, picture, scratch)
    for (let i = 0; i < words.length; i++) together[i]! |= (words[i]! & 255) << (8 * c)
    if (lit && light) for (let i = c; i < lit.length; i += 4) lit[i] = light[i]!
  }
  words.set(together)
  if (lit) light?.set(lit)
}

/** The light of opaque or empty words, into `light` (4 numbers a pixel): what is drawn then keeps more than 8 bits. */
export function lightOfWords(words: Uint32Array, light: Float32Array): void {
  for (let i = 0; i < words.length; i++) {
    const word = words[i]!
    for (let c = 0; c < 3; c++) light[4 * i + c] = linearOf8Bit[(word >>> (8 * c)) & 255]!
    light[4 * i + 3] = (word >>> 24) / 255
  }
}

/** Side of the squares in which a video is coded: what stands beside an edge within one reaches over it. */
const block = 16

/**
 * Gives what is clear beside what is seen its colours from `under` back, still clear: else the edge of a coded picture would take on the
 * black around it. Farther away it stays black: who is cut out does not take the picture along.
 */
export function keepColoursAround({ words, width, height }: Picture, under: Uint32Array): void {
  const [columns, rows] = [Math.ceil(width / block), Math.ceil(height / block)]
  const seen = new Uint8Array(columns * rows)
  for (let i = 0; i < words.length; i++)
    if (words[i]! >>> 24)
      seen[Math.floor(Math.floor(i / width) / block) * columns + Math.floor((i % width) / block)] = 1
  const near = (column: number, row: number) => {
    for (let y = Math.max(0, row - 1); y <= Math.min(rows - 1, row + 1); y++)
      for (let x = Math.max(0, column - 1); x <= Math.min(columns - 1, column + 1); x++)
        if (seen[y * columns + x]) return true
    return false
  }
  const kept = seen.map((_, i) => Number(near(i % columns, Math.floor(i / columns))))
  for (let i = 0; i < words.length; i++)
    if (
      !(words[i]! >>> 24) &&
      kept[Math.floor(Math.floor(i / width) / block) * columns + Math.floor((i % width) / block)]
    )
      words[i] = under[i]! & 0xffffff
}

/** Alpha of a picture, a byte a pixel, cut to an even size. */
export function alphaOf({ words, width }: Picture, out: Uint8Array, evenWidth: number, evenHeight: number): void {
  for (let y = 0, to = 0; y < evenHeight; y++)
    for (let x = 0; x < evenWidth; x++, to++) out[to] = words[y * width + x]! >>> 24
}
