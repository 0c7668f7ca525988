import type { Scratch } from '../pixels/buffers/scratch.ts'
import { linearOf8Bit } from '../pixels/colour/transfer.ts'
import { type OtherPictures, type Picture, renderFrame, renderLightAlone, withoutPictureEffects } from './frame.ts'
import type { Scene } from './scene.ts'
import { cutOut, drawMatte } from './views.ts'

/** What of a frame goes into a file: the plate with its light, either of them alone, or whose matte it is, or who is cut out. */
export type Content = 'over' | 'light' | 'plate' | 'matte' | 'cutout'

/** Whether it is made on nothing, without the plate. */
export const isBare = (content: Content): boolean => content === 'light' || content === 'matte'
/** Whether something of it is clear. */
export const isClear = (content: Content): boolean => content === 'light' || content === 'cutout'

export interface ContentOrder {
  frame: number
  content: Content
  /** Ids of the members whose matte it is, or who are cut out together. */
  of: readonly string[]
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
      return drawMatte(scene, of, frame, scale, picture, scratch)
    case 'cutout':
      return cutOut(scene, of, frame, scale, picture, scratch)
    case 'plate':
  }
}

/** The light of opaque or empty words, into `light` (4 numbers a pixel): what is drawn then keeps more than 8 bits. */
export function lightOfWords(words: Uint32Array, light: Float32Array): void {
  for (let i = 0; i < words.length; i++) {
    const word = words[i]!
    for (let c = 0; c < 3; c++) light[4 * i + c] = linearOf8Bit[(word >>> (8 * c)) & 255]!
    light[4 * i + 3] = (word >>> 24) / 255
  }
}
