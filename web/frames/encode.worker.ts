import * as Comlink from 'comlink'
import { Zip, ZipPassThrough } from 'fflate'
import {
  ALL_FORMATS,
  type AudioCodec,
  AudioSample,
  AudioSampleSink,
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
import { Refusal } from '#core/refusal.ts'
import { unrolled } from './animation.ts'

export interface VideoFileOptions {
  format: 'mp4' | 'webm'
  width: number
  height: number
  /** Frames a second where they are constant; null keeps the clip's own times. */
  rate: number | null
  /** Bits a second. */
  bitrate: number
  /** Clips whose sound goes along, each from second `from` to `to`, laid at second `at`; one after the other. */
  sound: { address: string; from: number; to: number; at: number }[]
}

/** Sound that a WebM file can hold as it is. */
const webmSound: readonly AudioCodec[] = ['opus', 'vorbis']

/** Writes one file, part by part, onto the browser's own disk, so that its length costs no memory. */
class Encoder {
  private access: FileSystemSyncAccessHandle | null = null
  private name = ''
  private output: Output | null = null
  private video: VideoSampleSource | null = null
  private zip: Zip | null = null
  private zipEnd = 0
  private sound: { upTo(second: number): Promise<void>; end(): void } | null = null

  async beginVideo(name: string, options: VideoFileOptions): Promise<void> {
    const access = await this.openFile(name)
    const { format, width, height, rate, bitrate } = options
    const codec = format === 'mp4' ? 'avc' : 'vp9'
    const output = new Output({
      format: format === 'mp4' ? new Mp4OutputFormat({ fastStart: false }) : new WebMOutputFormat(),
      target: new StreamTarget(
        new WritableStream({ write: ({ data, position }) => void access.write(data, { at: position }) }),
        { chunked: true, chunkSize: 2 ** 20 },
      ),
    })
    this.output = output
    this.video = new VideoSampleSource({ codec, bitrate, keyFrameInterval: 2, latencyMode: 'quality' })
    output.addVideoTrack(this.video, rate ? { frameRate: rate } : {})
    if (options.sound.length) this.sound = await soundInto(output, options.sound, format)
    if (width % 2 || height % 2) throw new Refusal('A video file needs an even width and height.')
    await output.start()
  }

  async beginZip(name: string): Promise<void> {
    const access = await this.openFile(name)
    this.zip = new Zip((error, chunk) => {
      if (error) throw error
      this.zipEnd += access.write(chunk, { at: this.zipEnd })
    })
  }

  /** `data`: tightly packed I420, limited-range BT.709. Times in seconds. Resolves when more can be taken. */
  async addFrame(data: Uint8Array, width: number, height: number, timestamp: number, duration: number): Promise<void> {
    const sample = new VideoSample(data, {
      ...{ format: 'I420', codedWidth: width, codedHeight: height, timestamp, duration },
      colorSpace: { primaries: 'bt709', transfer: 'bt709', matrix: 'bt709', fullRange: false },
    })
    try {
      await this.sound?.upTo(timestamp)
      await this.video!.add(sample)
    } finally {
      sample.close()
    }
  }

  addPicture(name: string, png: Uint8Array): void {
    // PNG is compressed already.
    const entry = new ZipPassThrough(name)
    this.zip!.add(entry)
    entry.push(png, true)
  }

  /** The frames of an animated picture, one after the other; gives their rate. */
  addAnimation(file: File): Promise<number> {
    let number = 0
    return unrolled(file, (png) => this.addPicture(`${String(++number).padStart(5, '0')}.png`, png))
  }

  /** Closes the file and hands it over. */
  async finish(): Promise<File> {
    await this.sound?.upTo(Infinity)
    this.sound?.end()
    await this.output?.finalize()
    this.output = null
    this.zip?.end()
    this.access!.flush()
    this.access!.close()
    this.access = null
    return (await (await folder()).getFileHandle(this.name)).getFile()
  }

  /** Removes the file from the browser's disk. */
  async discard(): Promise<void> {
    await this.output?.cancel().catch(() => {})
    this.access?.close()
    this.access = null
    await (await folder()).removeEntry(this.name).catch(() => {})
  }

  private async openFile(name: string): Promise<FileSystemSyncAccessHandle> {
    this.name = name
    this.access = await (await (await folder()).getFileHandle(name, { create: true })).createSyncAccessHandle()
    this.access.truncate(0)
    return this.access
  }
}

const folder = async () => (await navigator.storage.getDirectory()).getDirectoryHandle('rendered', { create: true })

/** Adds the sound: of a single clip copied as it is where the file can hold it, else as Opus. Null where there is none. */
async function soundInto(output: Output, pieces: VideoFileOptions['sound'], format: 'mp4' | 'webm') {
  const [first] = pieces
  if (pieces.length > 1 || !first) return coded(output, pieces)
  const { address, from, to } = first
  const input = new Input({ formats: ALL_FORMATS, source: new UrlSource(address) })
  const track = await input.getPrimaryAudioTrack()
  const codec = await track?.getCodec()
  if (!track || !codec) return null
  const copies = format === 'mp4' ? output.format.getSupportedAudioCodecs().includes(codec) : webmSound.includes(codec)
  if (!copies) {
    input.dispose()
    return coded(output, pieces)
  }
  const lay = await copied(output, track, codec, from, to)
  return { upTo: lay.upTo, end: () => (lay.end(), input.dispose()) }
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

/** Sound that is coded anew, piece by piece; what has other channels or another rate than the first is made like it. */
async function coded(output: Output, pieces: VideoFileOptions['sound']) {
  const source = new AudioSampleSource({ codec: 'opus', bitrate: 128_000 })
  output.addAudioTrack(source)
  let like: { rate: number; channels: number } | null = null
  async function* samples() {
    for (const { address, from, to, at } of pieces) {
      const input = new Input({ formats: ALL_FORMATS, source: new UrlSource(address) })
      const track = await input.getPrimaryAudioTrack()
      if (track)
        for await (const sample of new AudioSampleSink(track).samples(from, to)) {
          like ??= { rate: sample.sampleRate, channels: sample.numberOfChannels }
          yield alike(sample, like, Math.max(0, sample.timestamp - from + at))
        }
      input.dispose()
    }
  }
  const all = samples()
  let next = await all.next()
  return {
    async upTo(second: number) {
      for (; !next.done && next.value.timestamp <= second; next = await all.next()) {
        await source.add(next.value)
        next.value.close()
      }
    },
    end: () => source.close(),
  }
}

/** The sample at another time, and in another rate and number of channels where it has to be: straight between its values. */
function alike(
  sample: AudioSample,
  { rate, channels }: { rate: number; channels: number },
  timestamp: number,
): AudioSample {
  if (sample.sampleRate === rate && sample.numberOfChannels === channels) {
    sample.setTimestamp(timestamp)
    return sample
  }
  const planes = Array.from({ length: sample.numberOfChannels }, (_, planeIndex) => {
    const plane = new Float32Array(sample.numberOfFrames)
    sample.copyTo(plane, { planeIndex, format: 'f32-planar' })
    return plane
  })
  const step = sample.sampleRate / rate
  const count = Math.round(sample.numberOfFrames / step)
  const data = new Float32Array(count * channels)
  for (let c = 0; c < channels; c++) {
    const plane = planes[Math.min(c, planes.length - 1)]!
    for (let i = 0; i < count; i++) {
      const [whole, rest] = [Math.floor(i * step), (i * step) % 1]
      const next = plane[Math.min(plane.length - 1, whole + 1)]!
      data[c * count + i] = plane[whole]! + (next - plane[whole]!) * rest
    }
  }
  sample.close()
  return new AudioSample({ data, format: 'f32-planar', numberOfChannels: channels, sampleRate: rate, timestamp })
}

const encoder = new Encoder()
export type EncodeWorker = Comlink.Remote<Encoder>
Comlink.expose(encoder)
