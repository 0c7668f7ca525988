import * as Comlink from 'comlink'
import { encode as encodePng } from 'fast-png'
import { Scratch } from '#core/image/scratch.ts'
import { reduceRgba, rgbaToI420, uprightSize, yuvToRgba, i420Layout, type Yuv } from '#core/image/yuv.ts'
import { Records, type Diff } from '#core/model/diff.ts'
import type { AnyRecord } from '#core/model/records.ts'
import { renderFrame, renderLightAlone, type Picture } from '#core/render/frame.ts'
import { sceneOf, type Scene } from '#core/render/scene.ts'

export type Layer = 'plate' | 'result'
/** What of a frame goes into a file. */
export type Content = 'over' | 'light'

/**
 * Turns decoded frames into pictures: the plate upright and in sRGB, and the shot's effects on it. Holds its own
 * copy of the records, kept up by the same diffs as everywhere.
 */
class Renderer {
  private records = new Records()
  private scenes = new Map<string, Scene | null>()
  private readonly scratch = new Scratch()
  private full = new Uint32Array(0)

  start(records: AnyRecord[]): void {
    this.records = new Records(records)
    this.scenes.clear()
  }

  apply(diff: Diff): void {
    this.records.apply(diff)
    this.scenes.clear()
  }

  /**
   * A frame of the shot as RGBA bytes, reduced by 1, 2 or 4. `draft` stands in for records that are being dragged
   * and are not committed yet.
   */
  draw(shot: string, frame: number, yuv: Yuv, layer: Layer, reduce: 1 | 2 | 4, draft: Diff | null) {
    const picture = this.plate(yuv, reduce)
    if (layer === 'result') {
      const back = draft ? this.records.apply(draft) : null
      if (back) this.scenes.clear()
      const scene = this.scene(shot)
      if (scene) renderFrame(scene, frame, 1 / reduce, picture, this.scratch)
      if (back) {
        this.records.apply(back)
        this.scenes.clear()
      }
    }
    const pixels = new Uint8ClampedArray(picture.words.buffer as ArrayBuffer)
    return Comlink.transfer({ pixels, width: picture.width, height: picture.height }, [pixels.buffer])
  }

  /** The plate with its light as tightly packed I420 in limited-range BT.709, cut to an even size. */
  drawForVideo(shot: string, frame: number, yuv: Yuv, content: Content) {
    const picture = this.finished(shot, frame, yuv, content, false)
    const width = picture.width & ~1
    const height = picture.height & ~1
    const data = new Uint8Array(i420Layout(width, height).bytes)
    rgbaToI420(bytesOf(cropped(picture, width, height)), width, height, data)
    return Comlink.transfer({ data, width, height }, [data.buffer])
  }

  /** The plate with its light, or the light alone with alpha, as a PNG file. */
  async drawForPng(shot: string, frame: number, yuv: Yuv, content: Content): Promise<Uint8Array> {
    const { words, width, height } = this.finished(shot, frame, yuv, content, true)
    const rgba = bytesOf(words)
    if (content === 'light') {
      // A canvas would destroy colour under low alpha.
      const png = encodePng({ width, height, data: rgba, channels: 4 })
      return Comlink.transfer(png, [png.buffer])
    }
    const canvas = new OffscreenCanvas(width, height)
    const context = canvas.getContext('2d')!
    context.putImageData(new ImageData(new Uint8ClampedArray(rgba.buffer as ArrayBuffer), width, height), 0, 0)
    const png = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer())
    return Comlink.transfer(png, [png.buffer])
  }

  /** Light alone has alpha where the file can hold it, else it lies on black. */
  private finished(shot: string, frame: number, yuv: Yuv, content: Content, alpha: boolean): Picture {
    const scene = this.scene(shot)
    const { width, height } = uprightSize(yuv)
    const picture = content === 'over' ? this.plate(yuv, 1) : { words: new Uint32Array(width * height), width, height }
    if (scene && content === 'light' && alpha) renderLightAlone(scene, frame, 1, picture, this.scratch)
    else if (scene) renderFrame(scene, frame, 1, picture, this.scratch)
    return picture
  }

  private plate(yuv: Yuv, reduce: 1 | 2 | 4): Picture {
    const { width, height } = uprightSize(yuv)
    if (reduce === 1) {
      const words = new Uint32Array(width * height)
      yuvToRgba(yuv, words)
      return { words, width, height }
    }
    if (this.full.length !== width * height) this.full = new Uint32Array(width * height)
    yuvToRgba(yuv, this.full)
    const small = { width: Math.ceil(width / reduce), height: Math.ceil(height / reduce) }
    const words = new Uint32Array(small.width * small.height)
    reduceRgba(this.full, width, height, reduce, words)
    return { words, ...small }
  }

  private scene(shot: string): Scene | null {
    let scene = this.scenes.get(shot)
    if (scene === undefined) this.scenes.set(shot, (scene = sceneOf(this.records, shot)))
    return scene
  }
}

const bytesOf = (words: Uint32Array) => new Uint8Array(words.buffer, words.byteOffset, words.byteLength)

function cropped({ words, width, height }: Picture, w: number, h: number): Uint32Array {
  if (w === width && h === height) return words
  const out = new Uint32Array(w * h)
  for (let y = 0; y < h; y++) out.set(words.subarray(y * width, y * width + w), y * w)
  return out
}

const renderer = new Renderer()
export type RenderWorker = Comlink.Remote<Renderer>
Comlink.expose(renderer)
