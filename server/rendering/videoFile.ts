import { execFile, spawn } from 'node:child_process'
import { once } from 'node:events'
import { rename, rm } from 'node:fs/promises'
import { promisify } from 'node:util'
import {
  ALL_FORMATS,
  EncodedPacketSink,
  EncodedVideoPacketSource,
  FilePathSource,
  FilePathTarget,
  Input,
  MovOutputFormat,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny'
import { bitsPerPixel, type FilmFrame } from '#core/outgoing/filmFrames.ts'
import type { Way } from '#core/outgoing/forms.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { bounded, type Converter } from '../conversion/programs.ts'

export type VideoWay = Extract<Way, { way: 'video' | 'prores' }>

export interface VideoFileOrder {
  /** Where it goes; its ending says in which container. */
  file: string
  make: VideoWay
  /** Even, in pixels. */
  width: number
  height: number
  /** Frames a second, on the mean. */
  rate: number
  /** A WAV file that is heard with it, or ''. */
  sound: string
}

/**
 * Encodes frames into a video file by ffmpeg. A frame is I420 with a plane of alpha where the way has one, limited-range BT.709; for ProRes
 * it is RGBA of 16 bits a channel, little endian. Throws a Refusal with ffmpeg's own words where it does not take them.
 */
export class VideoFile {
  private readonly child
  private readonly closed: Promise<[number | null]>
  private words = ''

  constructor(converter: Converter, { file, make, width, height, rate, sound }: VideoFileOrder) {
    const deep = make.way === 'prores'
    const pixels = deep ? 'rgba64le' : make.alpha ? 'yuva420p' : 'yuv420p'
    const colour = ['-color_range', 'tv', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709']
    const [program, args] = bounded(converter, 'ffmpeg', [
      ...['-v', 'error', '-nostdin', '-y', '-f', 'rawvideo', '-pix_fmt', pixels, ...(deep ? [] : colour)],
      ...['-s', `${width}x${height}`, '-r', String(rate), '-i', 'pipe:0', ...(sound ? ['-i', sound] : [])],
      ...(deep ? proRes(make.alpha) : codecArguments(make, width * height * rate)),
      ...[...colour, ...(sound ? soundArguments(make) : []), file],
    ])
    this.child = spawn(program, args, { stdio: ['pipe', 'ignore', 'pipe'] })
    this.child.stderr.setEncoding('utf8').on('data', (text: string) => (this.words = (this.words + text).slice(-600)))
    this.closed = once(this.child, 'close') as Promise<[number | null]>
    // What is written to a program that has ended is told by its end.
    this.child.stdin.on('error', () => {})
  }

  /** The next frame. Resolves when more can be taken; the bytes may be written over then. */
  async add(bytes: Uint8Array): Promise<void> {
    if (this.child.exitCode !== null) throw this.failed()
    if (!this.child.stdin.write(Buffer.from(bytes))) await Promise.race([once(this.child.stdin, 'drain'), this.closed])
  }

  async end(): Promise<void> {
    this.child.stdin.end()
    const [code] = await this.closed
    if (code !== 0) throw this.failed()
  }

  stop(): void {
    this.child.kill('SIGKILL')
  }

  private failed(): Refusal {
    return new Refusal(say`ffmpeg could not write the file: ${this.words.trim() || say`it ended without a word.`}`)
  }
}

/** How a codec is asked for what the interface asks its own for; a key every two seconds at the most, so that pieces join. */
function codecArguments({ codec, alpha }: Extract<Way, { way: 'video' }>, pixelsASecond: number): string[] {
  const bits = ['-b:v', String(Math.max(2e6, Math.round(pixelsASecond * bitsPerPixel[codec])))]
  const pixels = ['-pix_fmt', alpha ? 'yuva420p' : 'yuv420p']
  switch (codec) {
    case 'avc':
      return ['-c:v', 'libx264', '-preset', 'medium', ...bits, '-g', '48', ...pixels]
    case 'hevc': {
      const quiet = ['-x265-params', 'log-level=error']
      return ['-c:v', 'libx265', '-preset', 'medium', ...bits, '-tag:v', 'hvc1', ...quiet, ...pixels]
    }
    case 'av1':
      return ['-c:v', 'libaom-av1', '-cpu-used', '6', '-row-mt', '1', ...bits, ...pixels]
    case 'vp9': {
      // Frames that are never shown can not have alpha.
      const shown = alpha ? ['-auto-alt-ref', '0'] : []
      return ['-c:v', 'libvpx-vp9', ...bits, '-row-mt', '1', '-g', '48', ...pixels, ...shown]
    }
  }
}

/** ProRes 422 HQ, or 4444 with alpha (profiles 3 and 4). */
function proRes(alpha: boolean): string[] {
  const form = alpha ? 'yuva444p10le' : 'yuv422p10le'
  const tags = 'setparams=range=tv:colorspace=bt709:color_primaries=bt709:color_trc=bt709'
  const scale = `scale=out_color_matrix=bt709:out_range=tv,format=${form},${tags}`
  const profile = alpha ? ['-profile:v', '4', '-alpha_bits', '16'] : ['-profile:v', '3']
  return ['-vf', scale, '-c:v', 'prores_ks', ...profile, '-vendor', 'apl0']
}

/** Gives the frames of a silent video file times of their own: ffmpeg takes raw frames at one rate only. */
export async function retime(file: string, rate: number, frames: readonly FilmFrame[]): Promise<void> {
  const input = new Input({ formats: ALL_FORMATS, source: new FilePathSource(file) })
  const ending = file.slice(file.lastIndexOf('.') + 1)
  const retimed = `${file}.timed`
  try {
    const track = (await input.getPrimaryVideoTrack())!
    const video = new EncodedVideoPacketSource((await track.getCodec())!)
    const format =
      ending === 'webm' ? new WebMOutputFormat() : ending === 'mov' ? new MovOutputFormat() : new Mp4OutputFormat()
    const output = new Output({ format, target: new FilePathTarget(retimed) })
    output.addVideoTrack(video)
    await output.start()
    const decoderConfig = await track.getDecoderConfig()
    for await (const packet of new EncodedPacketSink(track).packets()) {
      const { time, duration } = frames[Math.round(packet.timestamp * rate)]!
      await video.add(packet.clone({ timestamp: time, duration }), decoderConfig ? { decoderConfig } : undefined)
    }
    await output.finalize()
    await rename(retimed, file)
  } finally {
    input.dispose()
    await rm(retimed, { force: true })
  }
}

/** Lays a WAV file beside the picture of a silent video file, which stays as it is. */
export async function addSound(converter: Converter, file: string, make: VideoWay, sound: string): Promise<void> {
  const whole = file.replace(/(\.\w+)$/, '.heard$1')
  const [program, args] = bounded(converter, 'ffmpeg', [
    ...['-v', 'error', '-nostdin', '-y', '-i', file, '-i', sound, '-c:v', 'copy', ...soundArguments(make), whole],
  ])
  try {
    await promisify(execFile)(program, args)
    await rename(whole, file)
  } finally {
    await rm(whole, { force: true })
  }
}

const soundArguments = (make: VideoWay): string[] => [
  ...['-c:a', make.way === 'prores' ? 'pcm_s24le' : make.container === 'mp4' ? 'aac' : 'libopus', '-b:a', '192k'],
]
