import * as Comlink from 'comlink'
import type { Rect } from '#core/geometry/rect.ts'
import type { PictureCoding } from '#core/formats/pictureFile.ts'
import { KeptReadings, readingsAsked, type ReadingsAsked } from '#core/motion/readings.ts'
import { cropOf } from '#core/outgoing/crop.ts'
import { shapesText, type TextForm } from '#core/outgoing/shapesText.ts'
import { type SvgOrder, svgOfFrame } from '#core/outgoing/svgFile.ts'
import type { Whose } from '#core/outgoing/whose.ts'
import { type Drive, driven } from '#core/parameters/drives.ts'
import type { Luma } from '#core/pixels/buffers/luma.ts'
import { Scratch, withRoom } from '#core/pixels/buffers/scratch.ts'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import type { Diff } from '#core/records/diff.ts'
import { Records } from '#core/records/records.ts'
import { type ClipPlace, clipPlace } from '#core/records/timing.ts'
import { type AnyRecord, type Region, shotLength } from '#core/records/types.ts'
import { isClear } from '#core/render/contents.ts'
import { layFrame, picturesNeeded, renderFrame } from '#core/render/frame.ts'
import { type FileFrame, type OtherFrame, Painter, type Reduce } from '#core/render/painter.ts'
import { shapesOf } from '#core/render/region.ts'
import type { Picture } from '#core/render/picture.ts'
import { type Scene, sceneOf } from '#core/render/scene.ts'
import {
  drawClean,
  drawCutout,
  drawDifference,
  drawMatte,
  type DrawnView,
  layOver,
  markClipped,
  tintRegion,
} from '#core/render/views.ts'
import { type AskForClip, type ClipTrouble, FrameSource } from './frameSource.ts'
import type { Graphics } from './graphics.ts'

export type ViewLayer = 'plate' | 'result' | DrawnView

/** A picture to be made of a frame of a shot. */
export interface DrawOrder {
  shot: string
  frame: number
  /** The shot's own clip, and the places in it of this frame and of the one before. */
  clip: { media: string; place: ClipPlace; before: ClipPlace }
  layer: ViewLayer
  /** Id of the member, part or effect whose matte is looked at; '' for everybody's. */
  member: string
  reduce: Reduce
  /** How much of the result lies over the plate, 0 to 1. */
  strength: number
  result: ResultView
  /** Stands in for records that are being dragged and are not committed yet. */
  draft: Diff | null
}
/** How a result is looked at. */
export interface ResultView {
  /** The one card that works alone, or ''. */
  only: string
  /** The card whose region is tinted, or ''. */
  tinted: string
  /** Whether what is as bright as can be is marked. */
  clipped: boolean
  /** Whether the plate comes along, to be laid beside it. */
  plate: boolean
}

/** A picture as the page shows it: RGBA bytes. */
export interface DrawnPicture {
  pixels: Uint8ClampedArray<ArrayBuffer>
  /** The plate, where it was asked to come along. */
  plate: Uint8ClampedArray<ArrayBuffer> | null
  width: number
  height: number
  /** Clips that are not in it because they could not be had. */
  troubles: ClipTrouble[]
  room: Room
}
/** Bytes that a renderer has taken for what it draws in, and the pixels of the largest picture that it has drawn so. */
export interface Room {
  held: number
  most: number
}

/** Whether the graphics card draws what is shown: it does, but for kinds that it draws unlike the core; nobody wants it; there is none that can. */
export type GraphicsState = { state: 'on'; unproven: string[] } | { state: 'off' | 'none' }

/** A frame of a shot for a file. */
export interface FileOrder extends FileFrame {
  shot: string
}
/** How a picture is coded, and whether what is clear in it is multiplied by its alpha. */
export interface PictureOrder extends FileOrder {
  coding: PictureCoding | 'jpeg' | 'webp'
  premultiplied: boolean
}

/** Of a JPEG or WebP, 0 to 1: nothing of its blocks is seen. */
const lossyQuality = 0.93

/**
 * Turns decoded frames into pictures: the plate upright and in sRGB, and the shot's effects on it. Holds its own
 * copy of the records, kept up by the same diffs as everywhere.
 */
class Renderer {
  private records = new Records()
  private scenes = new Map<string, Scene | null>()
  private readings = new KeptReadings()
  private scratch = new Scratch(startKernels())
  private painter = new Painter(this.scratch)
  private most = 0
  private readonly source = new FrameSource()
  private graphics: Graphics | null = null
  private graphicsTurn = 0

  /** Hands over the way to decoded frames. */
  connect(ask: AskForClip): void {
    this.source.connect(ask)
  }
  /** A clip is put away. */
  forget(media: string, own: boolean): void {
    this.source.forget(media, own)
  }

  /** Bytes that it has taken for what it draws in. */
  held(): number {
    return this.scratch.held
  }

  /** Lets go of what it draws in; it is taken anew with the next picture. */
  letGo(): void {
    // Taking an engine anew is not for nothing.
    if (this.scratch.held === 0) return
    this.scratch = new Scratch(startKernels())
    this.painter = new Painter(this.scratch)
    this.most = 0
  }

  /** Begins with a project, from nothing that was known of another. */
  start(records: AnyRecord[]): void {
    this.records = new Records(records)
    this.readings = new KeptReadings()
    this.scenes.clear()
  }

  apply(diff: Diff): void {
    this.records.apply(diff)
    this.scenes.clear()
  }

  /** What the drives of a shot have to be told of pictures and sounds. */
  readingsAsked(shot: string): ReadingsAsked {
    return readingsAsked(this.records, shot)
  }
  /** Takes in frames of a clip on a coarse grid. */
  see(media: string, frames: { frame: number; luma: Luma }[]): void {
    for (const { frame, luma } of frames) this.readings.see(media, frame, luma)
    this.scenes.clear()
  }
  /** Takes in the level of a clip's sound on each of its frames. */
  hear(name: string, levels: Float32Array): void {
    this.readings.hear(name, levels)
    this.scenes.clear()
  }

  /** A frame of the shot, reduced by 1, 2 or 4. */
  async draw(order: DrawOrder): Promise<DrawnPicture> {
    const { clip, layer, shot, frame, draft, reduce } = order
    const own = (at: ClipPlace) => this.source.get(clip.media, true, at, reduce)
    const [yuv, before, { frames, troubles }] = await Promise.all([
      own(clip.place),
      layer === 'difference' ? own(clip.before) : null,
      layer === 'result' || layer === 'clean' ? this.others(shot, frame, draft, reduce) : { frames: [], troubles: [] },
    ])
    const card = await this.onCard(order, yuv, frames)
    return withRoom(() => this.drawn(order, { yuv, before, others: frames, card }, troubles))
  }

  /**
   * Draws results with the graphics card from now on, or no more. Says how that stands, and `onLost` when the card is gone: the core
   * goes on.
   */
  async useGraphics(on: boolean, onLost: () => void): Promise<GraphicsState> {
    this.graphics?.close()
    this.graphics = null
    const turn = ++this.graphicsTurn
    if (!on) return { state: 'off' }
    try {
      // Loaded where it is used: hardly a test, and no file.
      const { provenGraphics } = await import('./provenGraphics.ts')
      const graphics = await provenGraphics(new Scratch())
      if (turn !== this.graphicsTurn) {
        graphics.close()
        return { state: 'off' }
      }
      // It may have gone while it was tried.
      if (graphics.gone) return { state: 'none' }
      graphics.onLost = onLost
      this.graphics = graphics
      return { state: 'on', unproven: [...graphics.unproven] }
    } catch (error) {
      console.info(error)
      return { state: 'none' }
    }
  }

  /** A result that the graphics card has drawn; null where the core is to draw it. */
  private async onCard(
    { shot, frame, layer, reduce, result, draft }: DrawOrder,
    yuv: Yuv,
    others: OtherFrame[],
  ): Promise<Picture | null> {
    const { graphics } = this
    if (!graphics || graphics.gone || layer !== 'result') return null
    try {
      const under = withRoom(() =>
        this.withDraft(draft, () => {
          const scene = this.scene(shot)
          const { words, light, width, height } = this.painter.plate(yuv, reduce)
          const size = { width, height }
          if (!scene || light || !graphics.holds(size)) return null
          const given = this.painter.pictures(others, reduce)
          const shown = withCard(scene, result.only)
          const layOn = () => layFrame(shown, frame, 1 / reduce, size, graphics, this.scratch, given) !== null
          return { size, drawn: graphics.draw(words, size, scene.light, layOn) }
        }),
      )
      const words = await under?.drawn
      return under && words ? { words, ...under.size } : null
    } catch (error) {
      // A card that fails is no card: the core draws this frame and all others.
      if (!graphics.gone) console.error(error)
      graphics.fail()
      return null
    }
  }

  /** The other frames that the shot's effects are made from at a frame. */
  private async others(shotId: string, frame: number, draft: Diff | null, reduce: Reduce = 1) {
    const shot = this.records.get('shot', shotId)
    const needs = this.withDraft(draft, () => {
      const scene = this.scene(shotId)
      return scene ? picturesNeeded(scene, frame) : []
    })
    return shot ? this.source.others(needs, shot, this.records, reduce) : { frames: [], troubles: [] }
  }

  private drawn(
    { shot, frame, layer, member, reduce, strength, result, draft }: DrawOrder,
    { yuv, before, others, card }: { yuv: Yuv; before: Yuv | null; others: OtherFrame[]; card: Picture | null },
    troubles: ClipTrouble[],
  ): DrawnPicture {
    const earlier = before ? this.painter.plate(before, reduce).words.slice() : null
    // Of what a card has drawn the plate is made once more only where that is seen, too.
    const picture =
      card && strength === 1 && !result.plate
        ? this.painter.empty(card.width, card.height)
        : this.painter.plate(yuv, reduce)
    const beside = layer === 'result' && result.plate ? picture.words.slice() : null
    if (layer === 'difference') {
      if (earlier) drawDifference(picture, earlier)
    } else if (layer !== 'plate') {
      this.withDraft(draft, () => {
        const scene = this.scene(shot)
        const scale = 1 / reduce
        if (scene && layer === 'result') {
          const plate = strength < 1 ? picture.words.slice() : null
          const given = this.painter.pictures(others, reduce)
          if (card) picture.words.set(card.words)
          else renderFrame(withCard(scene, result.only), frame, scale, picture, this.scratch, given)
          if (plate) layOver(picture, plate, strength)
          if (result.clipped) markClipped(picture)
          const tinted = this.records.get('effect', result.tinted)
          if (tinted) tintRegion(scene, tinted.region, frame, scale, picture, this.scratch)
        } else if (scene && layer === 'clean') {
          const whose = this.whoseOf(member, scene)
          const ids = 'of' in whose ? whose.of : whose
          drawClean(scene, ids, frame, scale, picture, this.scratch, this.painter.pictures(others, reduce))
        } else if (scene) {
          const draw = layer === 'matte' ? drawMatte : drawCutout
          draw(scene, this.whoseOf(member, scene), frame, scale, picture, this.scratch)
        }
      })
    }
    const pixels = new Uint8ClampedArray(bytesOf(picture.words)) as Uint8ClampedArray<ArrayBuffer>
    const plate = beside && (new Uint8ClampedArray(beside.buffer) as Uint8ClampedArray<ArrayBuffer>)
    const { width, height } = picture
    this.most = Math.max(this.most, width * height)
    const room = { held: this.scratch.held, most: this.most }
    const drawn: DrawnPicture = { pixels, plate, width, height, troubles, room }
    return Comlink.transfer(drawn, plate ? [pixels.buffer, plate.buffer] : [pixels.buffer])
  }

  /** Whose matte is looked at: a member's, a part's, where an effect works, or everybody's. */
  private whoseOf(id: string, scene: Scene): string[] | Region {
    return this.records.get('effect', id)?.region ?? (id ? [id] : scene.members)
  }

  /** What feeds a drive, and what it makes of it, on every frame of the shot; NaN where nothing is said. */
  series(shot: string, drive: Drive): { input: Float64Array; output: Float64Array } {
    const scene = this.scene(shot)
    const length = scene ? shotLength(scene.shot) : 0
    const input = Float64Array.from({ length }, (_, frame) => scene!.read(drive, frame) ?? NaN)
    return { input, output: input.map((value) => (Number.isNaN(value) ? NaN : driven(drive, value))) }
  }

  /**
   * What an order asks for as tightly packed I420 in limited-range BT.709 of an even size; with `alpha` a plane of that follows, 255 for
   * what covers.
   */
  async drawForVideo(order: FileOrder, alpha = false) {
    const { yuv, frames, troubles } = await this.fileFrames(order)
    return withRoom(() => {
      const data = this.painter.forVideo(this.scene(order.shot), order, alpha, yuv, frames).slice()
      const { width, height } = order.crop ?? order.size
      return Comlink.transfer({ data, width: width & ~1, height: height & ~1, troubles }, [data.buffer])
    })
  }

  /** What a frame for a file is made from. */
  private async fileFrames({ shot: id, frame }: FileOrder) {
    const shot = this.records.get('shot', id)!
    const [yuv, others] = await Promise.all([
      this.source.get(shot.media, true, clipPlace(shot, frame)),
      this.others(id, frame, null),
    ])
    return { yuv, ...others }
  }

  /** A picture as a file: light alone and who is cut out with alpha, a matte in grey. */
  async drawForPicture(order: PictureOrder): Promise<{ file: Uint8Array; troubles: ClipTrouble[] }> {
    const { content, coding } = order
    const { yuv, frames: others, troubles } = await this.fileFrames(order)
    const done = (file: Uint8Array) => Comlink.transfer({ file, troubles }, [file.buffer])
    const scene = this.scene(order.shot)
    const made = withRoom(() => {
      if (coding !== 'jpeg' && coding !== 'webp' && (coding !== 'png' || content === 'matte' || isClear(content)))
        return this.painter.pictureFile(scene, { ...order, coding }, yuv, others)
      const { words, width, height } = this.painter.forPicture(scene, order, false, yuv, others)
      return new ImageData(new Uint8ClampedArray(bytesOf(words)), width, height)
    })
    if (made instanceof Uint8Array) return done(made)
    // Of what is opaque a canvas makes the same file several times as fast.
    const canvas = new OffscreenCanvas(made.width, made.height)
    canvas.getContext('2d')!.putImageData(made, 0, 0)
    const blob = await canvas.convertToBlob(
      coding === 'png' ? { type: 'image/png' } : { type: `image/${coding}`, quality: lossyQuality },
    )
    return done(new Uint8Array(await blob.arrayBuffer()))
  }

  /** The pixels that a matte or cut-out needs on frames: see {@link cropOf}. */
  cropOf(
    shot: string,
    whose: Whose,
    frames: { from: number; to: number },
    { reduce, size }: Pick<FileFrame, 'reduce' | 'size'>,
  ): Rect | null {
    const scene = this.scene(shot)
    return scene && cropOf(scene, whose, frames, 1 / reduce, size)
  }

  /** Whether anything of these is there on some frame from `from` up to `to`. */
  isThere(shot: string, of: readonly string[], from: number, to: number): boolean {
    const scene = this.scene(shot)
    const there = (frame: number) =>
      of.some((id) => shapesOf(scene!, id, frame).some(({ points, raster }) => points ?? raster))
    return scene !== null && Array.from({ length: to - from }, (_, i) => from + i).some(there)
  }

  /** What was traced in a shot as the text of a file; `told` hears how much of it is done, 0 to 1. */
  shapesText(writes: TextForm, shot: string, order: SvgOrder, told: (share: number) => void): string {
    const scene = this.scene(shot)
    return scene ? shapesText(this.records, scene, writes, order, told) : ''
  }
  /** Traced shapes as a drawing of each frame from `from` up to `to`. */
  svgOfFrames(shot: string, order: SvgOrder, from: number, to: number): string[] {
    const scene = this.scene(shot)
    return scene ? Array.from({ length: to - from }, (_, i) => svgOfFrame(scene, order, from + i)) : []
  }

  private withDraft<T>(draft: Diff | null, run: () => T): T {
    if (!draft) return run()
    const back = this.records.apply(draft)
    this.scenes.clear()
    try {
      return run()
    } finally {
      this.records.apply(back)
      this.scenes.clear()
    }
  }

  private scene(shot: string): Scene | null {
    let scene = this.scenes.get(shot)
    if (scene === undefined) this.scenes.set(shot, (scene = sceneOf(this.records, shot, this.readings)))
    return scene
  }
}

/** The scene with the one card that works alone, where one does. */
const withCard = (scene: Scene, only: string): Scene =>
  only ? { ...scene, effects: scene.effects.filter((one) => one.id === only) } : scene

const bytesOf = (words: Uint32Array) => new Uint8Array(words.buffer, words.byteOffset, words.byteLength)

const renderer = new Renderer()
export type RenderWorker = Comlink.Remote<Renderer>
Comlink.expose(renderer)
