import { execFile, spawn } from 'node:child_process'
import { closeSync, openSync, readSync, writeSync } from 'node:fs'
import { promisify } from 'node:util'
import type { Recording } from '#core/sound/lane.ts'
import { foldToStereo } from '#core/sound/signal/fold.ts'
import { soundRate, stereo } from '#core/sound/signal/stereo.ts'
import { bounded, type Converter, localFile } from '../conversion/programs.ts'

/** Bytes of a sample of both sides. */
const sampleBytes = 8

/** The sound of a file, decoded by ffmpeg onto the disk once, so that its length costs no memory. */
export class DecodedSound implements Recording {
  length = 0
  private file = -1

  /** Decodes `from` into `to`. A file without sound, or whose sound can not be decoded, is silence. */
  async open(converter: Converter, from: string, to: string): Promise<void> {
    const channels = await channelsOf(converter, from)
    if (!channels) return
    this.file = openSync(to, 'w+')
    const [program, args] = bounded(converter, 'ffmpeg', [
      ...['-v', 'error', '-nostdin', ...localFile(from), '-map', '0:a:0'],
      // What begins later than the picture begins with silence.
      ...['-af', 'aresample=async=1:first_pts=0', '-ar', String(soundRate), '-f', 'f32le', 'pipe:1'],
    ])
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'ignore'] })
    let rest = Buffer.alloc(0)
    for await (const part of child.stdout) {
      const all = Buffer.concat([rest, part as Buffer])
      const count = Math.floor(all.length / (4 * channels))
      this.take(all, count, channels)
      rest = all.subarray(4 * channels * count)
    }
  }

  close(): void {
    if (this.file >= 0) closeSync(this.file)
    this.file = -1
  }

  read(from: number, count: number, left: Float32Array, right: Float32Array): void {
    left.fill(0, 0, count)
    right.fill(0, 0, count)
    const first = Math.max(0, from)
    const some = Math.min(from + count, this.length) - first
    if (some <= 0) return
    const both = new Float32Array(2 * some)
    readSync(this.file, new Uint8Array(both.buffer), 0, sampleBytes * some, sampleBytes * first)
    for (let i = 0; i < some; i++) {
      left[first - from + i] = both[2 * i]!
      right[first - from + i] = both[2 * i + 1]!
    }
  }

  private take(all: Buffer, count: number, channels: number): void {
    if (!count) return
    const planes = Array.from({ length: channels }, () => new Float32Array(count))
    for (let i = 0, at = 0; i < count; i++) for (const plane of planes) plane[i] = all.readFloatLE(4 * at++)
    const two = stereo(count)
    foldToStereo(planes, two)
    const both = Float32Array.from({ length: 2 * count }, (_, i) => (i & 1 ? two.right : two.left)[i >> 1]!)
    writeSync(this.file, new Uint8Array(both.buffer), 0, both.byteLength, sampleBytes * this.length)
    this.length += count
  }
}

async function channelsOf(converter: Converter, file: string): Promise<number> {
  const [program, args] = bounded(converter, 'ffprobe', [
    ...['-v', 'error', '-select_streams', 'a:0', '-show_entries', 'stream=channels', '-of', 'csv=p=0'],
    ...localFile(file),
  ])
  const { stdout } = await promisify(execFile)(program, args)
  return Number.parseInt(stdout, 10) || 0
}
