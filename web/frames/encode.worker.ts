import * as Comlink from 'comlink'
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate'
import {
  ALL_FORMATS,
  type AudioCodec,
  AudioSample,
  AudioSampleSource,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  Input,
  type InputAudioTrack,
  Mp4OutputFormat,
  Output,
  StreamTarget,
  UrlSource,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
} from 'mediabunny'
import { webpFrame, webpHead, webpSize } from '#core/formats/webpAnimation.ts'
import { type WavForm, wavHead, wavSamples } from '#core/formats/wav.ts'
import { Refusal } from '#core/refusal.ts'
import { soundRate, stereo } from '#core/sound/signal/stereo.ts'
import { say } from '#core/say.ts'
import { unrolled } from './animation.ts'
import { dropRendered, renderedFolder } from './renderedFiles.ts'
import { laneNames, mixOf, type MixOrder, type SoundMix } from './soundMix.ts'

export interface VideoFileOptions {
  format: 'mp4' | 'webm'
  codec: 'avc' | 'hevc' | 'av1' | 'vp9'
  /** Whether its frames come with alpha. */
  alpha: boolean
  width: number
  height: number
  /** Frames a second where they are constant; null keeps the clip's own times. */
  rate: number | null
  /** Bits a second. */
  bitrate: number
  sound: FileSoundOrder | null
}

/** The sound of a file. */
export interface FileSoundOrder {
  /** A clip's own sound from second `from` to `to`, where it is all that is heard, and as it is. */
  copy: { address: string; from: number; to: number } | null
  mix: MixOrder
}

/** Sound that a WebM file can hold as it is. */
const webmSound: readonly AudioCodec[] = ['opus', 'vorbis']

/** Writes one file, part by part, onto the browser's own disk, so that its length costs no memory. */
class Encoder {
  private access: FileSystemSyncAccessHandle | null = null
  private name = ''
  private output: Output | null = null
  private video: VideoSampleSource | null = null
  private alpha = false
  private zip: Zip | null = null
  private moving: { width: number; height: number; end: number } | null = null
  private zipEnd = 0
  private sound: Awaited<ReturnType<typeof soundInto>> = null

  async beginVideo(name: string, options: VideoFileOptions): Promise<void> {
    const access = await this.openFile(name)
    const { format, codec, alpha, width, height, rate, bitrate } = options
    const output = new Output({
      format: format === 'mp4' ? new Mp4OutputFormat({ fastStart: false }) : new WebMOutputFormat(),
      target: new StreamTarget(
        new WritableStream({ write: ({ data, position }) => void access.write(data, { at: position }) }),
        { chunked: true, chunkSize: 2 ** 20 },
      ),
    })
    this.output = output
    this.video = new VideoSampleSource({
      ...{ codec, bitrate, keyFrameInterval: 2, latencyMode: 'quality' },
      alpha: alpha ? 'keep' : 'discard',
    })
    this.alpha = alpha
    output.addVideoTrack(this.video, rate ? { frameRate: rate } : {})
    if (options.sound) this.sound = await soundInto(output, options.sound, format)
    if (width % 2 || height % 2) throw new Refusal(say`A video file needs an even width and height.`)
    await output.start()
  }

  async beginZip(name: string): Promise<void> {
    const access = await this.openFile(name)
    this.zip = new Zip((error, chunk) => {
      if (error) throw error
      this.zipEnd += access.write(chunk, { at: this.zipEnd })
    })
  }

  /** A picture that moves, of WebP pictures; see addMoving. */
  async beginAnimation(name: string, width: number, height: number, alpha: boolean): Promise<void> {
    const access = await this.openFile(name)
    this.moving = { width, height, end: access.write(webpHead(width, height, alpha), { at: 0 }) }
  }
  /** The next picture of an animation, and for how many milliseconds it stays. */
  addMoving(picture: Uint8Array, milliseconds: number): void {
    const { width, height, end } = this.moving!
    this.moving!.end += this.access!.write(webpFrame(picture, width, height, milliseconds), { at: end })
  }

  /** A file of a single part. */
  async beginSingle(name: string): Promise<void> {
    await this.openFile(name)
  }

  /** `data`: tightly packed I420, limited-range BT.709, and the plane of alpha where the file has that. Times in seconds. Resolves when more can be taken. */
  async addFrame(data: Uint8Array, width: number, height: number, timestamp: number, duration: number): Promise<void> {
    const sample = new VideoSample(data, {
      ...{ format: this.alpha ? 'I420A' : 'I420', codedWidth: width, codedHeight: height, timestamp, duration },
      colorSpace: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false },
    })
    try {
      await this.sound?.upTo(timestamp)
      await this.video!.add(sample)
    } finally {
      sample.close()
    }
  }

  /**
   * Writes sound alone: one WAV file of all, or with `lanes` one of each in a zip, named and of equal length. `onShare` is told
   * how far it has come, 0 to 1.
   */
  async writeSound(name: string, order: MixOrder, form: WavForm, lanes: boolean, onShare: (share: number) => void) {
    const access = await this.openFile(name)
    let end = 0
    const write = (bytes: Uint8Array) => void (end += access.write(bytes, { at: end }))
    const out = stereo(batch)
    const troubles = new Map<string, string>()
    const pour = async (mix: SoundMix, to: (bytes: Uint8Array) => void, from: number, share: number) => {
      const { mixdown } = mix
      to(wavHead(form, mixdown.length, soundRate))
      for (let done = 0; done < mixdown.length; done += batch) {
        const count = Math.min(batch, mixdown.length - done)
        await mixdown.next(out, count)
        to(wavSamples(form, out.left, out.right, count))
        onShare(from + (share * done) / mixdown.length)
      }
      for (const [id, sentence] of mix.troubles) troubles.set(id, sentence)
      mix.close()
    }
    if (!lanes) await pour(await mixOf(order), write, 0, 1)
    else {
      const zip = new Zip((error, chunk) => {
        if (error) throw error
        write(chunk)
      })
      const all = laneNames(order)
      for (const [i, { id, name: called }] of all.entries()) {
        const entry = new ZipPassThrough(`${String(i + 1).padStart(2, '0')} ${called}.wav`)
        zip.add(entry)
        await pour(await mixOf(order, id), (bytes) => entry.push(bytes), i / all.length, 1 / all.length)
        entry.push(new Uint8Array(), true)
      }
      zip.end()
    }
    access.flush()
    access.close()
    this.access = null
    return { file: await (await (await renderedFolder()).getFileHandle(this.name)).getFile(), troubles: [...troubles] }
  }

  /** Why clips are silent in the file, by their ids. */
  soundTroubles(): [string, string][] {
    return [...(this.sound?.troubles() ?? [])]
  }

  /** What a single file is, or the next part of a zip. */
  addPart(name: string, bytes: Uint8Array): void {
    if (!this.zip) return void this.access!.write(bytes, { at: 0 })
    // Pictures are compressed already.
    const entry = name.endsWith('.svg') ? new ZipDeflate(name) : new ZipPassThrough(name)
    this.zip.add(entry)
    entry.push(bytes, true)
  }

  /** The frames of an animated picture, one after the other; gives their rate. */
  addAnimation(file: File): Promise<number> {
    let number = 0
    return unrolled(file, (png) => this.addPart(`${String(++number).padStart(5, '0')}.png`, png))
  }

  /** Closes the file and hands it over. */
  async finish(): Promise<File> {
    await this.sound?.upTo(Infinity)
    this.sound?.end()
    await this.output?.finalize()
    this.output = null
    this.zip?.end()
    if (this.moving) this.access!.write(webpSize(this.moving.end), { at: 4 })
    this.access!.flush()
    this.access!.close()
    this.access = null
    return (await (await renderedFolder()).getFileHandle(this.name)).getFile()
  }

  /** Removes the file from the browser's disk. */
  async discard(): Promise<void> {
    await this.output?.cancel().catch(() => {})
    this.access?.close()
    this.access = null
    await dropRendered(this.name)
  }

  private async openFile(name: string): Promise<FileSystemSyncAccessHandle> {
    this.name = name
    // Of the file before nothing is left.
    this.output = this.video = this.zip = this.moving = this.sound = null
    this.zipEnd = 0
    this.access = await (await (await renderedFolder()).getFileHandle(name, { create: true })).createSyncAccessHandle()
    this.access.truncate(0)
    return this.access
  }
}

/** Adds the sound: of a single clip copied as it is where the file can hold it, else mixed. Null where there is none. */
async function soundInto(output: Output, { copy, mix }: FileSoundOrder, format: 'mp4' | 'webm') {
  if (!copy) return mixed(output, mix, format)
  const { address, from, to } = copy
  const input = new Input({ formats: ALL_FORMATS, source: new UrlSource(address) })
  const track = await input.getPrimaryAudioTrack()
  const codec = await track?.getCodec()
  if (!track || !codec) return null
  const copies = format === 'mp4' ? output.format.getSupportedAudioCodecs().includes(codec) : webmSound.includes(codec)
  if (!copies) {
    input.dispose()
    return mixed(output, mix, format)
  }
  const lay = await copied(output, track, codec, from, to)
  return { upTo: lay.upTo, end: () => (lay.end(), input.dispose()), troubles: () => new Map<string, string>() }
}

async function copied(output: Output, track: InputAudioTrack, codec: AudioCodec, from: number, to: number) {
  const source = new EncodedAudioPacketSource(codec)
  output.addAudioTrack(source)
  const decoderConfig = await track.getDecoderConfig()
  const sink = new EncodedPacketSink(track)
  const first = await sink.getPacket(from)
  const packets = sink.packets(first ?? undefined)
  let next = await packets.next()
  return {
    async upTo(second: number) {
      for (
        ;
        !next.done && next.value.timestamp < to && next.value.timestamp - from <= second;
        next = await packets.next()
      )
        // The packet that the cut goes through begins before it and can not be halved.
        if (next.value.timestamp >= from - 1e-6)
          await source.add(
            next.value.clone({ timestamp: next.value.timestamp - from }),
            decoderConfig ? { decoderConfig } : undefined,
          )
    },
    end: () => source.close(),
  }
}

/** Samples that are mixed and coded at once. */
const batch = 4096
/**
 * Samples by which what FFmpeg's AAC encoder gives comes late (measured: a frame). They lie before the file's beginning: its edit
 * list cuts them off.
 */
const aacDelay = 1024

/** Everything that is heard, mixed piece by piece: AAC in MP4, Opus in WebM. */
async function mixed(output: Output, order: MixOrder, format: 'mp4' | 'webm') {
  const codec = format === 'mp4' ? 'aac' : 'opus'
  // Many browsers have no encoder for AAC. One comes along, and is used everywhere: how late it is has to be known.
  if (codec === 'aac') (await import('@mediabunny/aac-encoder')).registerAacEncoder()
  const late = codec === 'aac' ? aacDelay : 0
  const source = new AudioSampleSource({ codec, bitrate: 192_000 })
  output.addAudioTrack(source)
  const mix = await mixOf(order)
  const { mixdown } = mix
  const out = stereo(batch)
  let done = 0
  return {
    async upTo(second: number) {
      const end = Math.min(mixdown.length, Math.ceil(second * soundRate) + batch)
      while (done < end) {
        const count = Math.min(batch, mixdown.length - done)
        await mixdown.next(out, count)
        const data = new Float32Array(2 * count)
        data.set(out.left.subarray(0, count))
        data.set(out.right.subarray(0, count), count)
        const sample = new AudioSample({
          ...{
            data,
            format: 'f32-planar',
            numberOfChannels: 2,
            sampleRate: soundRate,
            timestamp: (done - late) / soundRate,
          },
        })
        await source.add(sample)
        sample.close()
        done += count
      }
    },
    end: () => (source.close(), mix.close()),
    troubles: () => mix.troubles,
  }
}

const encoder = new Encoder()
export type EncodeWorker = Comlink.Remote<Encoder>
Comlink.expose(encoder)
