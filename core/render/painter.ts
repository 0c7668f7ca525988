import type { PictureNeed } from '../effects/effect.ts'
import type { Rect } from '../geometry/rect.ts'
import type { PictureCoding } from '../formats/pictureFile.ts'
import { isDeep, pictureFile } from '../formats/pictureFile.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import type { Kernels } from '../pixels/kernels/interface.ts'
import { reducedLight, reducedRgba } from '../pixels/buffers/still.ts'
import { i420Layout, uprightSize, type Yuv } from '../pixels/buffers/yuv.ts'
import type { Records } from '../records/records.ts'
import { type ClipPlace, clipPlace } from '../records/timing.ts'
import type { Shot } from '../records/types.ts'
import { isBare, isClear } from './contents.ts'
import { alphaOf, type ContentOrder, drawContent, keepColoursAround, lightOfWords } from './drawContent.ts'
import { renderVideoFrame } from './frame.ts'
import { noLap } from './passes.ts'
import { fittedPicture, type OtherPictures, type Picture, pictureToI420 } from './picture.ts'
import type { Scene } from './scene.ts'

const slots = {
  codes: new Slot(),
  otherCodes: new Slot(),
  otherPlate: new Slot(),
  videoFrame: new Slot(),
  plate: new Slot(),
  fileLight: new Slot(),
}

export type Reduce = 1 | 2 | 4

/** A frame that a frame's effects are made from, as it was asked for. */
export interface OtherFrame extends PictureNeed {
  yuv: Yuv
}

/** A frame of a shot for a file of a size in pixels. */
export interface FileFrame extends Omit<ContentOrder, 'alpha'> {
  size: { width: number; height: number }
  /** By how much it is reduced before it is fitted into that size. */
  reduce: Reduce
  /** What of that size goes into the file: all of it where there is none. Even places and sizes. */
  crop?: Rect
}

/** Where in its clip a picture lies that a frame of a shot needs; null where the clip is gone. `own`: of the shot's own clip. */
export function placeOf(
  need: PictureNeed,
  shot: Shot,
  records: Records,
): ({ media: string; own: boolean } & ClipPlace) | null {
  const { between = 'repeated' } = need
  if (!need.media) return { media: shot.media, own: true, ...clipPlace(shot, need.frame) }
  const frames = records.get('media', need.media)?.frames
  if (frames === undefined) return null
  const frame = need.loop ? ((need.frame % frames) + frames) % frames : Math.min(frames - 1, Math.max(0, need.frame))
  return { media: need.media, own: false, frame, between }
}

/** A picture of another frame, in a buffer of its own; no name where it is not known again. */
interface Kept {
  name: string | null
  slot: Slot
  picture: Picture
}
/** More bytes of them than this are not kept for the next frames, only as many as a frame needs. */
const mostKept = 24 * 1024 ** 2
const bytesOf = ({ words, light }: Picture) => words.byteLength + (light?.byteLength ?? 0)

/** Makes pictures of decoded frames: the plate upright and in sRGB, and what goes into a file. The same bytes wherever it runs. */
export class Painter {
  private readonly scratch: Scratch
  /** Pictures of other frames, the one last that was asked for last, and with whose kernels they were made. */
  private kept: Kept[] = []
  private keptBy: Kernels | null = null

  constructor(scratch: Scratch) {
    this.scratch = scratch
  }

  /** A frame as a plate, reduced; with `alpha` what is clear in it stays clear. */
  plate(yuv: Yuv, reduce: Reduce): Picture {
    return this.plateOf(this.taken(yuv, slots.codes), reduce, slots.plate, false)
  }

  /** Nothing, to lay light on. */
  empty(width: number, height: number): Picture {
    return { words: this.scratch.words(slots.plate, width * height).fill(0), width, height }
  }

  /** Other frames as pictures, each made when it is asked for, where it is not there from a frame before. None of them may be changed. */
  pictures(others: readonly OtherFrame[], reduce: Reduce): OtherPictures {
    const made = new Map<string, Kept>()
    return ({ media, frame, scaled }) => {
      const called = `${media} ${frame} ${scaled}`
      const known = made.get(called)
      if (known) return known.picture
      const other = others.find((one) => one.media === media && one.frame === frame)
      if (!other) return null
      // Another clip comes at its own size: it may be looked at through a magnifying glass.
      const by = media && !scaled ? 1 : reduce
      const alpha = Boolean(media) && other.yuv.rgba !== undefined
      const kept = this.keptOf(other.yuv, by, alpha, [...made.values()])
      made.set(called, kept)
      return kept.picture
    }
  }

  /** A frame as a picture, as it was made before, or anew in place of the one that was wanted longest ago and is not in use. */
  private keptOf(yuv: Yuv, by: Reduce, alpha: boolean, inUse: readonly Kept[]): Kept {
    // What lies in a memory that was given up would hold all of that.
    if (this.keptBy !== this.scratch.kernels) this.kept = []
    this.keptBy = this.scratch.kernels
    const name = yuv.name === undefined ? null : `${yuv.name} ${by} ${alpha}`
    const known = this.kept.find((one) => one.name !== null && one.name === name)
    if (known) {
      this.kept.push(...this.kept.splice(this.kept.indexOf(known), 1))
      return known
    }
    const held = this.kept.reduce((sum, { picture }) => sum + bytesOf(picture), 0)
    const longest = held > mostKept ? this.kept.findIndex((one) => !inUse.includes(one)) : -1
    const replaced = this.kept[longest]
    // From here on it is not what it was called, whatever comes of the new one.
    if (replaced) replaced.name = null
    const slot = replaced?.slot ?? slots.otherPlate.part(this.kept.length)
    const picture = this.scratch.lasting(() => ({
      ...this.plateOf(this.taken(yuv, slots.otherCodes), by, slot, alpha),
      alpha,
    }))
    const kept = { name, slot, picture }
    if (replaced) this.kept.splice(longest, 1)
    this.kept.push(kept)
    return kept
  }

  /**
   * A frame for a video as tightly packed I420 in limited-range BT.709 of an even size; with `alpha` a plane of that follows, 255 for what
   * covers. The bytes are the scratch's own, until the next frame.
   */
  forVideo(
    scene: Scene | null,
    order: FileFrame,
    alpha: boolean,
    yuv: Yuv,
    others: readonly OtherFrame[],
    lap = noLap,
  ): Uint8Array {
    const { frame, content, size, reduce, crop } = order
    const [width, height] = [(crop ?? size).width & ~1, (crop ?? size).height & ~1]
    const { bytes } = i420Layout(width, height)
    const out = this.scratch.bytes(slots.videoFrame, bytes + (alpha ? width * height : 0))
    const upright = uprightSize(yuv)
    const asItIs = !crop && reduce === 1 && !yuv.rgba && upright.width === size.width && upright.height === size.height
    if (scene && content === 'over' && asItIs)
      renderVideoFrame(scene, frame, this.taken(yuv, slots.codes), out, this.scratch, this.pictures(others, 1), lap)
    else {
      const picture = this.forPicture(scene, order, false, yuv, others, alpha)
      pictureToI420(picture, out)
      if (alpha) alphaOf(picture, out.subarray(bytes), width, height)
    }
    return out
  }

  /** A frame as a picture of the size that is asked for; `deep`: with its light, too. */
  forPicture(
    scene: Scene | null,
    order: FileFrame,
    deep: boolean,
    yuv: Yuv,
    others: readonly OtherFrame[],
    alpha = true,
  ): Picture {
    const whole = fittedPicture(this.content(scene, order, alpha, deep, yuv, others), order.size, this.scratch)
    return order.crop ? cutTo(whole, order.crop) : whole
  }

  /** A frame as the bytes of a picture file: light alone and who is cut out with alpha, a matte in grey. */
  pictureFile(
    scene: Scene | null,
    order: FileFrame & { coding: PictureCoding; premultiplied: boolean },
    yuv: Yuv,
    others: readonly OtherFrame[],
  ): Uint8Array {
    const { content, coding, premultiplied } = order
    const picture = this.forPicture(scene, order, isDeep(coding), yuv, others)
    const matte = 'channels' in order.of ? 'mattes' : 'matte'
    const channels = content === 'matte' ? matte : isClear(content) ? 'rgba' : 'rgb'
    const within = order.crop && { ...order.size, x: order.crop.x, y: order.crop.y }
    return pictureFile(picture, coding, { channels, premultiplied, ...(within ? { within } : {}) })
  }

  private content(
    scene: Scene | null,
    order: FileFrame,
    alpha: boolean,
    deep: boolean,
    yuv: Yuv,
    others: readonly OtherFrame[],
  ): Picture {
    const { content, reduce } = order
    const upright = uprightSize(yuv)
    const [width, height] = [Math.ceil(upright.width / reduce), Math.ceil(upright.height / reduce)]
    const picture = isBare(content) ? this.empty(width, height) : this.plate(yuv, reduce)
    if (deep && !picture.light) {
      picture.light = this.scratch.floats(slots.fileLight, 4 * width * height)
      lightOfWords(picture.words, picture.light)
    }
    if (!scene) return picture
    const under = alpha && !deep && content === 'cutout' ? picture.words.slice() : null
    drawContent(scene, { ...order, alpha }, 1 / reduce, picture, this.scratch, this.pictures(others, reduce))
    if (under) keepColoursAround(picture, under)
    return picture
  }

  /** The frame's codes where the kernels can reach them. */
  private taken(yuv: Yuv, slot: Slot): Yuv {
    const data = this.scratch.bytes(slot, yuv.data.byteLength)
    data.set(yuv.data)
    return { ...yuv, data }
  }

  /** `by`: pixels of the clip in one of the picture's, along a side; a frame that was read smaller is that much nearer. */
  private plateOf(yuv: Yuv, by: Reduce, slot: Slot, alpha: boolean): Picture {
    const reduce = (by / (yuv.reduced ?? 1)) as Reduce
    const upright = uprightSize(yuv)
    const [width, height] = [Math.ceil(upright.width / reduce), Math.ceil(upright.height / reduce)]
    const words = this.scratch.words(slot, width * height)
    if (yuv.light) {
      const light = this.scratch.floats(slot.part('light'), 4 * width * height)
      reducedLight(yuv.light, yuv.width, yuv.height, reduce, !alpha, light, words)
      return { words, light, width, height }
    }
    if (yuv.rgba) reducedRgba(yuv.rgba, yuv.width, yuv.height, reduce, !alpha, words)
    else if (reduce === 1) this.scratch.kernels.yuvToRgba(yuv, words)
    else this.scratch.kernels.yuvToReducedRgba(yuv, reduce, words)
    return { words, width, height }
  }
}

/** The part of a picture in a rectangle within it. */
function cutTo({ words, light, width }: Picture, { x, y, width: w, height: h }: Rect): Picture {
  const out: Picture = { words: new Uint32Array(w * h), width: w, height: h }
  if (light) out.light = new Float32Array(4 * w * h)
  for (let row = 0; row < h; row++) {
    const from = (y + row) * width + x
    out.words.set(words.subarray(from, from + w), row * w)
    if (light) out.light!.set(light.subarray(4 * from, 4 * (from + w)), 4 * row * w)
  }
  return out
}
