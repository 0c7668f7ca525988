import * as Comlink from 'comlink'
import { LRUCache } from 'lru-cache'
import { AudioSampleSink, type VideoSample } from 'mediabunny'
import { exrMagic, pixelsOfExr } from '#core/formats/exr.ts'
import { pixelsOfPng, pngMagic } from '#core/formats/png.ts'
import { type Luma, lumaOf } from '#core/pixels/buffers/luma.ts'
import { frameOfStill } from '#core/pixels/buffers/still.ts'
import { i420Layout, reducedI420, rgbaToI420, splitNv12, withAlpha, type Yuv } from '#core/pixels/buffers/yuv.ts'
import { limits } from '#core/records/limits.ts'
import type { Between } from '#core/records/types.ts'
import type { Reduce } from '#core/render/painter.ts'
import type { FramesBetween } from '#core/timing/betweenFrames.ts'
import { Refusal } from '#core/refusal.ts'
import { FrameLevels } from '#core/sound/level.ts'
import { say } from '#core/say.ts'
import { counted } from './counted.ts'
import { hearMemory, mayHold, onMemory, type Share } from './memory.ts'
import { pacedDecoder } from './pacedDecoder.ts'
import { raise } from './raise.ts'
import { notThere, VideoReader } from './videoReader.ts'

/** A clip as the decoder has to know it. `times`: seconds of every frame of the clip, rising. */
export interface Clip {
  address: string
  times: number[]
  matrix: Yuv['matrix']
  range: Yuv['range']
  rotation: Yuv['rotation']
  /** Whether it is one picture on all of its frames. */
  still: boolean
  /** Whether it is a still or a sequence of pictures, and no video. */
  pictures: boolean
}

/** Frames of a large clip that wait for the reader once they are decoded: the decoder is never idle then, and each is some 12 MB. */
const mostFramesOut = 4
/** Frames after which it is known how quickly a clip is read. */
const paceFrames = 12

/**
 * The frame store: decodes forwards, keeps decoded frames in their native form in shared memory, reads ahead
 * through the shot, and when asked for an earlier frame decodes its whole group once. Frames are numbered within
 * the clip.
 */
class Decoder {
  private reader: VideoReader | null = null
  /** A copy of a large clip at half its size, that frames which are wanted smaller come from. */
  private lighter: VideoReader | null = null
  private clip: Clip | null = null
  private share: Share = 'decoded'
  private frames = storeOf(mayHold(this.share))
  /** Whether frames come smaller for who may have them so: of a large clip that is quicker, and many times as many have room. */
  private large = false
  /** Takes in the frames of a large clip, one after the other. */
  private raw = new Uint8Array(0)
  /** Frames that were read from the clip itself one after the other, and the milliseconds that took. */
  private readonly read = { frames: 0, ms: 0 }
  private readonly wanted: {
    frame: number
    reduce: Reduce
    done: (yuv: Yuv) => void
    fail: (error: unknown) => void
  }[] = []
  private range: { from: number; to: number; at: number; reduce: Reduce } | null = null
  private running = false
  private between: FramesBetween | null = null

  /** Opens a clip; throws an Error with a sentence where this browser can not decode it. */
  async open(clip: Clip, share: Share = 'decoded'): Promise<void> {
    this.close()
    this.share = share
    this.frames = storeOf(mayHold(share))
    this.between = null
    this.clip = clip
    this.large = false
    if (clip.pictures) return
    this.reader = await VideoReader.open(clip.address, clip.times)
    const { width, height } = this.reader.size
    this.large = width * height > limits.usualFrame
  }

  /** Takes frames that are wanted smaller from a lighter copy from now on; stays with the clip where it can not be had. */
  async lighten(address: string): Promise<void> {
    const { clip, reader } = this
    if (!clip || !reader || this.lighter) return
    try {
      const copy = await VideoReader.open(address, clip.times, 'itsOwnStart')
      // Another clip may be open by now.
      if (this.reader === reader && !this.lighter && 2 * copy.size.width === reader.size.width) this.lighter = copy
      else copy.close()
    } catch (error) {
      console.error(error)
    }
  }

  /** Holds no more than it may now; goes on reading where that is more. */
  fit(): void {
    const before = this.frames
    this.frames = storeOf(mayHold(this.share))
    before.rforEach((yuv, name) => this.frames.set(name, yuv))
    this.run().catch(raise)
  }
  /** Milliseconds that a frame of the clip itself takes to read, one after the other; null while few were read. */
  pace(): number | null {
    const { frames, ms } = this.read
    return frames < paceFrames ? null : ms / frames
  }
  /** Bytes of decoded frames. */
  held(): number {
    return this.frames.calculatedSize
  }

  close(): void {
    this.reader?.close()
    this.lighter?.close()
    this.reader = this.lighter = null
    Object.assign(this.read, { frames: 0, ms: 0 })
    this.frames.clear()
    this.range = null
    for (const { fail } of this.wanted.splice(0)) fail(new Refusal(say`The clip was closed.`))
  }

  /**
   * Reads ahead from `at` to the end of from..to (inclusive), then from its start, as far as memory goes. `reduce`: at which size
   * frames of a large clip are wanted.
   */
  readAhead(from: number, to: number, at: number, reduce: Reduce = 1): void {
    const size = this.large ? reduce : 1
    this.range = this.clip?.still ? { from: 0, to: 0, at: 0, reduce: 1 } : { from, to, at, reduce: size }
    this.run().catch(raise)
  }

  /** The frame, of a large clip `smaller` where that is asked for; at once when it is in the store; what lies between two frames is made of both. */
  get(asked: number, between: Between = 'repeated', smaller: Reduce = 1): Promise<Yuv> {
    const frame = this.clip?.still ? 0 : asked
    if (between !== 'repeated' && !Number.isInteger(frame)) return this.made(frame, between)
    const reduce = this.large ? smaller : 1
    const known = this.known(frame, reduce)
    if (known) return Promise.resolve(known)
    return new Promise((done, fail) => {
      this.wanted.push({ frame, reduce, done, fail })
      this.run().catch(raise)
    })
  }

  private async made(place: number, between: Between): Promise<Yuv> {
    const name = `${place} ${between}`
    const { frames } = this
    const known = frames.get(name)
    if (known) return known
    // Loaded by who needs it: hardly a shot does.
    const { FramesBetween } = await import('#core/timing/betweenFrames.ts')
    this.between ??= new FramesBetween()
    const yuv = await this.between.at(place, between, (frame) => this.get(frame), shared)
    frames.set(name, named(yuv))
    return yuv
  }

  /** A frame on a coarse grid, `reduce` pixels a pixel. */
  async luma(frame: number, reduce: number): Promise<Luma> {
    return lumaOf(await this.get(frame), reduce, shared)
  }

  /** Level of the clip's sound on each of its frames; null where it has none that this browser decodes. */
  async levels(): Promise<Float32Array | null> {
    const track = await this.reader?.input.getPrimaryAudioTrack()
    if (!track || !this.clip || !(await track.canDecode())) return null
    const levels = new FrameLevels(this.clip.times)
    for await (const sample of new AudioSampleSink(track).samples()) {
      const plane = new Float32Array(sample.numberOfFrames)
      for (let planeIndex = 0; planeIndex < sample.numberOfChannels; planeIndex++) {
        sample.copyTo(plane, { planeIndex, format: 'f32-planar' })
        levels.add(plane, sample.timestamp, sample.sampleRate)
      }
      sample.close()
    }
    return levels.levels()
  }

  /** Answers on another port, too: for a worker that reads frames without the page. */
  serve(port: MessagePort): void {
    Comlink.expose(this, port)
  }

  private async run(): Promise<void> {
    if (this.running) return
    this.running = true
    try {
      for (;;) {
        const request = this.mostWanted()
        const { frame, reduce } = request ?? this.missingAhead() ?? { frame: null, reduce: 1 as const }
        if (frame === null) break
        try {
          const name = nameOf(frame, reduce)
          const yuv = this.known(frame, reduce) ?? (await this.decodeTo(frame, reduce))
          for (let i = this.wanted.length - 1; i >= 0; i--)
            if (this.wanted[i]!.frame === frame && this.wanted[i]!.reduce === reduce)
              this.wanted.splice(i, 1)[0]!.done(yuv)
          // A frame that is too large to be kept is read when it is asked for, and not ahead.
          if (!request && !this.frames.has(name)) this.range = null
        } catch (error) {
          this.reader?.rest()
          const at = request ? this.wanted.indexOf(request) : -1
          if (at >= 0) this.wanted.splice(at, 1)[0]!.fail(error)
          else if (!request) this.range = null
        }
      }
    } finally {
      this.running = false
    }
  }

  /** The wanted frame that the open decoder reaches soonest, so that frames asked for in order come in order; else the newest wish. */
  private mostWanted() {
    const soon = this.wanted.filter(({ frame, reduce }) => this.readerOf(reduce)?.reaches(frame))
    return soon.length ? soon.reduce((a, b) => (b.frame < a.frame ? b : a)) : this.wanted.at(-1)
  }

  /** The next frame of the shot that is not in the store; null when there is none or the memory is full. */
  private missingAhead(): { frame: number; reduce: Reduce } | null {
    if (!this.range || !this.clip) return null
    const { from, to, at, reduce } = this.range
    const { size, calculatedSize: bytes, maxSize } = this.frames
    if (bytes + (size ? bytes / size : 0) > maxSize) return null
    const count = to - from + 1
    for (let i = 0; i < count; i++) {
      const frame = from + ((at - from + i) % count)
      if (!sizes.some((size) => size <= reduce && this.frames.has(nameOf(frame, size)))) return { frame, reduce }
    }
    return null
  }

  private async decodeTo(frame: number, reduce: Reduce): Promise<Yuv> {
    if (this.clip?.pictures) {
      const yuv = await pictureFrame(this.clip, frame)
      this.keep(frame, yuv)
      return yuv
    }
    const { reader, lighter } = this
    if (!reader) throw new Refusal(say`No clip is open.`)
    if (lighter && reduce > 1) {
      try {
        return await this.readTo(frame, reduce, lighter)
      } catch (error) {
        // The clip itself is still there.
        console.error(error)
        lighter.close()
        if (this.lighter === lighter) this.lighter = null
      }
    }
    return this.readTo(frame, reduce, reader)
  }
  private async readTo(frame: number, reduce: Reduce, reader: VideoReader): Promise<Yuv> {
    const isHalf = reader !== this.reader
    const began = performance.now()
    const goesOn = reader.reaches(frame)
    const { at, taken } = await reader.to(frame, (sample, at) => this.taken(sample, at, reduce, isHalf))
    if (goesOn && !isHalf && at === frame) {
      this.read.frames++
      this.read.ms += performance.now() - began
    }
    // A frame that the decoder skipped: the one after it stands in.
    if (at !== frame) this.keep(frame, taken)
    return taken
  }
  /** What frames at a size are read from. */
  private readerOf(reduce: Reduce): VideoReader | null {
    return reduce > 1 && this.lighter ? this.lighter : this.reader
  }

  /** A frame that is kept at a size, or finer: then it is made smaller once. */
  private known(frame: number, reduce: Reduce): Yuv | undefined {
    const kept = this.frames.get(nameOf(frame, reduce))
    if (kept || reduce === 1) return kept
    for (const finer of [2, 1] as const) {
      const known = finer < reduce && this.frames.get(nameOf(frame, finer))
      if (!known) continue
      const made = reducedI420(known, (reduce / finer) as 2 | 4, shared)
      this.keep(frame, made)
      return made
    }
    return undefined
  }

  /** A frame as it comes from the decoder, at the size that is asked for; kept so, and as others wait for it. */
  private async taken(sample: VideoSample, frame: number, reduce: Reduce, isHalf: boolean): Promise<Yuv> {
    const clip = this.clip!
    const known = this.known(frame, reduce)
    if (known) return known
    if (!this.large) {
      const yuv = await toYuv(sample, clip)
      this.keep(frame, yuv)
      return yuv
    }
    const others = this.wanted.filter((one) => one.frame === frame).map((one) => one.reduce)
    if (isHalf) {
      const half: Yuv = { ...(await toYuv(sample, clip)), reduced: 2 }
      for (const size of new Set([reduce, ...others]))
        if (size > 1) this.keep(frame, size === 2 ? half : reducedI420(half, 2, shared))
      return this.frames.get(nameOf(frame, reduce)) ?? (reduce === 2 ? half : reducedI420(half, 2, shared))
    }
    const asked = new Set([reduce, ...others])
    const passing = (bytes: number) => {
      if (this.raw.length < bytes) this.raw = new Uint8Array(bytes)
      return this.raw.subarray(0, bytes)
    }
    // Only what somebody wants whole is kept whole.
    const whole = await toYuv(sample, clip, asked.has(1) ? shared : passing)
    for (const size of asked) this.keep(frame, size === 1 ? whole : reducedI420(whole, size, shared))
    return this.frames.get(nameOf(frame, reduce)) ?? (reduce === 1 ? whole : reducedI420(whole, reduce, shared))
  }

  private keep(frame: number, yuv: Yuv): void {
    const name = nameOf(frame, yuv.reduced ?? 1)
    if (!this.frames.has(name)) this.frames.set(name, named(yuv))
  }
}

const ownName = crypto.randomUUID()
let namedFrames = 0
/** Whoever made a picture of a frame that is kept knows it again. */
function named(yuv: Yuv): Yuv {
  yuv.name ??= `${ownName} ${++namedFrames}`
  return yuv
}

const sizes: readonly Reduce[] = [1, 2, 4]
/** What a frame at a size is called in the store. */
const nameOf = (frame: number, reduce: Reduce) => (reduce === 1 ? frame : `${frame} by ${reduce}`)
const bytesOf = ({ data, rgba, light }: Yuv) => data.byteLength + (rgba?.byteLength ?? 0) + (light?.byteLength ?? 0)
/** Decoded frames by their number, those between by their place and making: as many as `maxSize` bytes hold, those that were asked for last. */
function storeOf(maxSize: number) {
  return new LRUCache<number | string, Yuv>({ maxSize, sizeCalculation: bytesOf })
}

/** A picture of a still or sequence. */
async function pictureFrame({ address }: Clip, frame: number): Promise<Yuv> {
  const answer = await fetch(`${address}/pictures/${frame}`).catch(() => {
    throw notThere()
  })
  if (!answer.ok) throw new Refusal(say`The picture can not be fetched from the server. Bring it in again.`)
  const file = new Uint8Array(await answer.arrayBuffer())
  const begins = (magic: readonly number[]) => magic.every((byte, i) => file[i] === byte)
  if (begins(pngMagic)) return frameOfStill(pixelsOfPng(file), shared)
  if (begins(exrMagic)) return frameOfStill(pixelsOfExr(file), shared)
  // Opaque: a canvas does no harm here. It also turns the picture upright.
  const bitmap = await createImageBitmap(new Blob([file])).catch(() => {
    throw new Refusal(say`The picture is damaged and can not be read. Bring it in again.`)
  })
  const { width, height } = bitmap
  const context = new OffscreenCanvas(width, height).getContext('2d')!
  context.drawImage(bitmap, 0, 0)
  bitmap.close()
  const rgba = new Uint8Array(context.getImageData(0, 0, width, height).data.buffer)
  return frameOfStill({ width, height, rgba }, shared)
}

/** The decoder's own planes, copied; nothing converts colours on the way. */
async function toYuv(sample: VideoSample, clip: Clip, room: (bytes: number) => Uint8Array = shared): Promise<Yuv> {
  const { width, height } = sample.visibleRect
  const { matrix, range, rotation } = clip
  if (sample.format === 'I420' || sample.format === 'I420A') {
    const data = room(sample.allocationSize())
    const [luma, u, v, alpha] = await sample.copyTo(data)
    const yuv: Yuv = { data, width, height, planes: [luma!, u!, v!], matrix, range, rotation }
    return alpha && rotation === 0 ? withAlpha(yuv, alpha, shared) : yuv
  }
  if (sample.format === 'NV12') {
    const raw = new Uint8Array(sample.allocationSize())
    const [luma, chroma] = await sample.copyTo(raw)
    const { bytes, planes } = i420Layout(width, height)
    const data = room(bytes)
    splitNv12(raw, [luma!, chroma!], { data, width, height, planes })
    return { data, width, height, planes, matrix, range, rotation }
  }
  // More than 8 bits or other sampling: the browser's own conversion is all there is.
  const even = { width: width & ~1, height: height & ~1 }
  const options = { format: 'RGBX' as const, rect: { ...sample.visibleRect, ...even } }
  const rgba = new Uint8Array(sample.allocationSize(options))
  await sample.copyTo(rgba, options)
  const { bytes, planes } = i420Layout(even.width, even.height)
  const data = room(bytes)
  rgbaToI420(rgba, even.width, even.height, data)
  return { data, ...even, planes, matrix: 'bt709', range: 'limited', rotation }
}

const shared = (bytes: number) => counted({ data: new Uint8Array(new SharedArrayBuffer(bytes)) }).data

// Who reads clips makes a decoder of this name.
if ('VideoDecoder' in globalThis)
  globalThis.VideoDecoder = pacedDecoder(VideoDecoder, limits.usualFrame + 1, mostFramesOut)

const decoder = new Decoder()
onMemory(() => decoder.fit())
hearMemory()
export type DecodeWorker = Comlink.Remote<Decoder>
Comlink.expose(decoder)
