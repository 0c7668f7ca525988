import { type ChildProcess, spawn } from 'node:child_process'
import { once } from 'node:events'
import { Mutex } from 'async-mutex'
import { LRUCache } from 'lru-cache'
import { exrMagic, pixelsOfExr } from '#core/formats/exr.ts'
import { pixelsOfPng, pngMagic } from '#core/formats/png.ts'
import { frameOfStill } from '#core/pixels/buffers/still.ts'
import { i420Layout, withAlpha, type Yuv } from '#core/pixels/buffers/yuv.ts'
import { type Between, isPictures, isStill, type Media } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { FramesBetween } from '#core/timing/betweenFrames.ts'
import { say } from '#core/say.ts'
import { bounded, type Converter, localFile } from '../conversion/programs.ts'
import type { Facts } from '../media/mediaFacts.ts'
import { pictureAt } from '../media/pictures.ts'

/** Bytes of decoded frames that are kept of a clip: effects look at frames around. */
const budget = 256 * 1024 ** 2
/** Frames that are quicker decoded on to than begun anew at. */
const goOnFor = 48

/** A clip's frames in Node, the decoder's own planes as the browser gives them, by ffmpeg. Frames are numbered within the clip. */
export class ClipReader {
  private readonly converter: Converter
  private readonly file: string
  private readonly media: Media
  private readonly facts: Facts
  /** Whether it has a plane of alpha, which only libvpx decodes. */
  private readonly alpha: boolean
  private readonly frames = new LRUCache<number, Yuv>({
    maxSize: budget,
    sizeCalculation: ({ data, rgba, light }) => data.byteLength + (rgba?.byteLength ?? 0) + (light?.byteLength ?? 0),
  })
  private readonly turn = new Mutex()
  private readonly between = new FramesBetween()
  private child: ChildProcess | null = null
  private chunks: AsyncIterator<Buffer> | null = null
  private rest: Buffer = Buffer.alloc(0)
  /** The frame that the process gives next. */
  private next = 0

  constructor(converter: Converter, file: string, media: Media, facts: Facts, alpha: boolean) {
    this.converter = converter
    this.file = file
    this.media = media
    this.facts = facts
    this.alpha = alpha
  }

  /** A frame; what lies between two is made of both. However many are asked for at once, one after the other is decoded: there is one process. */
  get(asked: number, between: Between = 'repeated'): Promise<Yuv> {
    const frame = isStill(this.media) ? 0 : asked
    if (between !== 'repeated' && !Number.isInteger(frame))
      return this.between.at(frame, between, (one) => this.get(one))
    return this.turn.runExclusive(() => this.read(frame))
  }

  private async read(frame: number): Promise<Yuv> {
    const known = this.frames.get(frame)
    if (known) return known
    if (isPictures(this.media)) {
      const yuv = await this.picture(frame)
      this.frames.set(frame, yuv)
      return yuv
    }
    if (!this.child || frame < this.next || frame > this.next + goOnFor) this.begin(frame)
    for (;;) {
      const yuv = await this.decoded()
      const at = this.next++
      this.frames.set(at, yuv)
      if (at === frame) return yuv
    }
  }

  close(): void {
    this.child?.kill('SIGKILL')
    this.child = null
  }

  /** Bytes of a frame as ffmpeg writes it, before rotation, and its planes. */
  private get layout() {
    const { width, height, rotation } = this.media
    const [w, h] = rotation % 180 ? [height, width] : [width, height]
    const { bytes, planes } = i420Layout(w, h)
    return { w, h, planes, bytes, all: bytes + (this.alpha ? w * h : 0) }
  }

  private begin(frame: number): void {
    this.close()
    const { times } = this.facts
    // In the middle between two frames: rounding of times takes none away and adds none.
    const from = frame > 0 ? (times[frame - 1]! + times[frame]!) / 2 - times[0]! : 0
    const decoder = this.alpha ? ['-c:v', this.media.codec === 'vp8' ? 'libvpx' : 'libvpx-vp9'] : []
    const [program, args] = bounded(this.converter, 'ffmpeg', [
      ...['-v', 'error', '-nostdin', ...decoder, '-noautorotate'],
      ...(frame > 0 ? ['-ss', from.toFixed(6)] : []),
      ...localFile(this.file),
      ...['-map', '0:v:0', '-fps_mode', 'passthrough', '-pix_fmt', this.alpha ? 'yuva420p' : 'yuv420p'],
      ...['-f', 'rawvideo', 'pipe:1'],
    ])
    this.child = spawn(program, args, { stdio: ['ignore', 'pipe', 'ignore'] })
    this.chunks = this.child.stdout![Symbol.asyncIterator]() as AsyncIterator<Buffer>
    this.rest = Buffer.alloc(0)
    this.next = frame
  }

  private async decoded(): Promise<Yuv> {
    const { w, h, planes, bytes, all } = this.layout
    const parts = [this.rest]
    let length = this.rest.length
    while (length < all) {
      const { value, done } = await this.chunks!.next()
      if (done) throw new Refusal(say`The clip ${this.media.name} ends before its frame ${this.next + 1}.`)
      parts.push(value)
      length += value.length
    }
    const whole = Buffer.concat(parts)
    this.rest = whole.subarray(all)
    const { matrix, range, rotation } = this.media
    const data = new Uint8Array(whole.subarray(0, all))
    const yuv: Yuv = { data, width: w, height: h, planes, matrix, range, rotation: rotation as Yuv['rotation'] }
    return this.alpha && rotation === 0 ? withAlpha(yuv, { offset: bytes, stride: w }) : yuv
  }

  private async picture(frame: number): Promise<Yuv> {
    const place = this.facts.pictures?.[frame]
    if (!place) throw new Refusal(say`${this.media.name} has no picture ${frame + 1}.`)
    const parts: Buffer[] = []
    for await (const part of pictureAt(this.file, place)) parts.push(part as Buffer)
    const file = new Uint8Array(Buffer.concat(parts))
    const begins = (magic: readonly number[]) => magic.every((byte, i) => file[i] === byte)
    if (begins(pngMagic)) return frameOfStill(pixelsOfPng(file))
    if (begins(exrMagic)) return frameOfStill(pixelsOfExr(file))
    const { width, height } = this.media
    return frameOfStill({ width, height, rgba: await this.jpeg(file) })
  }

  private async jpeg(file: Uint8Array): Promise<Uint8Array> {
    const [program, args] = bounded(this.converter, 'ffmpeg', [
      ...[
        '-v',
        'error',
        '-f',
        'image2pipe',
        '-i',
        'pipe:0',
        '-frames:v',
        '1',
        '-pix_fmt',
        'rgba',
        '-f',
        'rawvideo',
        'pipe:1',
      ],
    ])
    const child = spawn(program, args, { stdio: ['pipe', 'pipe', 'ignore'] })
    child.stdin.on('error', () => {})
    child.stdin.end(file)
    const parts: Buffer[] = []
    child.stdout.on('data', (part: Buffer) => parts.push(part))
    await once(child, 'close')
    return new Uint8Array(Buffer.concat(parts))
  }
}
