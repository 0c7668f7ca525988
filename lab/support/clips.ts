import { spawn, spawnSync } from 'node:child_process'
import { mkdtemp, readFile, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { ffmpeg, ffmpegProgram, ffprobeProgram } from './ffmpeg.ts'

export interface ClipOptions {
  width?: number
  height?: number
  frames?: number
  rate?: number
  /** ffmpeg's arguments for the coding. */
  coding?: string[]
  sound?: boolean
  /** How wide the rod is on a frame, px: 9 unless told. */
  widthAt?: (frame: number) => number
  /** More arguments before the output. */
  extra?: string[]
}
export type RodPlace = [heelX: number, heelY: number, tipX: number, tipY: number]

/** Where the drawn rod lies: it turns about a hand that drifts, faster in the middle of the clip. */
export function rodAt(frame: number, { width = 640, height = 360, frames = 48 }: ClipOptions = {}): RodPlace {
  const u = frame / (frames - 1)
  const angle = -2.4 + 2.6 * (u * u * (3 - 2 * u))
  const [x, y] = [width * (0.42 + 0.1 * u), height * (0.62 - 0.06 * u)]
  const length = height * 0.42
  return [x, y, x + Math.cos(angle) * length, y + Math.sin(angle) * length]
}

/**
 * A clip that the demo does not ship: a pale rod that swings over a patterned ground, drawn here and coded by
 * ffmpeg. Its truth is {@link rodAt}.
 */
export async function makeClip(file: string, options: ClipOptions = {}): Promise<void> {
  const { width = 640, height = 360, frames = 48, rate = 24, extra = [], widthAt = () => 9 } = options
  const coding = options.coding ?? ['-c:v', 'libx264', '-crf', '18', '-pix_fmt', 'yuv420p', '-g', '24']
  const sound = options.sound
    ? ['-f', 'lavfi', '-i', `sine=frequency=440:duration=${frames / rate}`, '-c:a', 'aac']
    : []
  const args = [
    ...[
      '-y',
      '-loglevel',
      'error',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-s',
      `${width}x${height}`,
      '-r',
      String(rate),
      '-i',
      '-',
    ],
    ...sound,
    ...[
      '-vf',
      'scale=out_color_matrix=bt709:out_range=tv',
      '-colorspace',
      'bt709',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
    ],
    ...['-color_range', 'tv', ...coding, ...extra, file],
  ]
  const child = spawn(ffmpegProgram, args, { stdio: ['pipe', 'inherit', 'inherit'] })
  const rgb = Buffer.alloc(width * height * 3)
  for (let frame = 0; frame < frames; frame++) {
    const [hx, hy, tx, ty] = rodAt(frame, options)
    const [dx, dy] = [tx - hx, ty - hy]
    const half = widthAt(frame) / 2
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const u = Math.max(0, Math.min(1, ((x + 0.5 - hx) * dx + (y + 0.5 - hy) * dy) / (dx * dx + dy * dy)))
        const distance = Math.hypot(x + 0.5 - hx - u * dx, y + 0.5 - hy - u * dy)
        const cover = Math.max(0, Math.min(1, half - distance))
        const ground = 40 + 12 * Math.sin(x / 9) * Math.sin(y / 11) + (40 * y) / height
        const at = 3 * (y * width + x)
        for (let c = 0; c < 3; c++) rgb[at + c] = ground * (1 - cover) * (c === 2 ? 1.15 : 0.9) + cover * (200 - 30 * c)
      }
    }
    if (!child.stdin.write(Buffer.from(rgb))) await new Promise((resolve) => child.stdin.once('drain', resolve))
  }
  child.stdin.end()
  const code = await new Promise((resolve) => child.once('exit', resolve))
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} while making ${file}.`)
}

/** Such a clip as the bytes of its file, small. */
export async function clipOfFrames(frames: number): Promise<Buffer> {
  const folder = await mkdtemp(join(tmpdir(), 'wisp-clip-'))
  try {
    const file = join(folder, 'clip.mp4')
    await makeClip(file, { width: 320, height: 180, frames })
    return await readFile(file)
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** What ffprobe says of the first video stream (frames counted by decoding) and the kinds of all streams. */
export function probe(file: string) {
  const entries =
    'stream=codec_type,codec_name,width,height,pix_fmt,color_range,color_space,color_transfer,color_primaries,avg_frame_rate,nb_read_frames,duration'
  const { stdout } = spawnSync(ffprobeProgram, [
    ...['-v', 'error', '-count_frames', '-show_entries', entries, '-of', 'json', file],
  ])
  const { streams } = JSON.parse(String(stdout)) as { streams: Record<string, string>[] }
  return {
    video: streams.find((one) => one.codec_type === 'video')!,
    sound: streams.find((one) => one.codec_type === 'audio'),
  }
}

/** Frames of a video as RGB bytes, decoded by ffmpeg. */
export const decodeRgb = (file: string): Buffer => ffmpeg(['-i', file, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'])

/** Copies a clip and tags it as filmed on a phone held upright: a quarter turn that players apply. */
export function turnByTag(from: string, to: string): void {
  try {
    ffmpeg(['-display_rotation', '90', '-i', from, '-c', 'copy', to])
  } catch {
    // ffmpeg before 6 has no such option and takes a metadata entry instead.
    ffmpeg(['-i', from, '-c', 'copy', '-metadata:s:v', 'rotate=90', to])
  }
}
