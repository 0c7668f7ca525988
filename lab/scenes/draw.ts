/**
 * Draws the demo footage and its truth: npm run draw -- [scene ...] [--seed N] [--noise N] [--blur N] [--frames N]
 * [--out FOLDER]. Needs ffmpeg. Another seed gives another performance.
 */
import { spawn } from 'node:child_process'
import { mkdirSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { encode } from 'fast-png'
import { zipSync } from 'fflate'
import { i420Layout, rgbaToI420 } from '#core/pixels/buffers/yuv.ts'
import { hashed } from '#core/pixels/filters/noise.ts'
import { ffmpegProgram } from '../support/ffmpeg.ts'
import { demoMedia } from '../support/places.ts'
import { film, round, truthOf } from './film.ts'
import { scenes } from './index.ts'
import { lantern, lanternCorners, lanternSize, swayFrames, turnAt } from './lantern.ts'
import { frameSize, type Scene } from './scene.ts'

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    seed: { type: 'string', default: '1' },
    noise: { type: 'string', default: '1' },
    blur: { type: 'string', default: '1' },
    frames: { type: 'string' },
    out: { type: 'string', default: demoMedia },
  },
})
const seed = Number(values.seed)
mkdirSync(values.out, { recursive: true })
const nameOf = (scene: Scene) => scene.file.split('.')[0]!
const asked = (name: string) => positionals.length === 0 || positionals.includes(name)
const known = [...scenes.map(nameOf), 'lantern']
const unknown = positionals.find((name) => !known.includes(name))
if (unknown) throw new Error(`There is no scene ${unknown}; scenes are: ${known.join(', ')}.`)
for (const scene of scenes) if (asked(nameOf(scene))) await draw(scene)
if (asked('lantern')) drawLantern()

/** The still, the zip of its swaying, and the corners of the paper on every picture. It is the same with every seed. */
function drawLantern(): void {
  const png = (turn: number) => encode({ ...lanternSize, data: lantern(turn), channels: 4 })
  const turns = Array.from({ length: swayFrames }, (_, i) => turnAt(i))
  writeFileSync(join(values.out, 'lantern.png'), png(0))
  const names = turns.map((turn, i) => [`lantern-sway-${String(i).padStart(2, '0')}.png`, png(turn)] as const)
  writeFileSync(
    join(values.out, 'lantern-sway.zip'),
    zipSync(Object.fromEntries(names), { level: 0, mtime: '2026-01-01' }),
  )
  const truth = {
    ...lanternSize,
    still: round(lanternCorners(0)),
    sway: turns.map((turn) => round(lanternCorners(turn))),
  }
  writeFileSync(join(values.out, 'lantern.truth.json'), JSON.stringify(truth))
}

async function draw(scene: Scene): Promise<void> {
  const frames = values.frames ? Number(values.frames) : scene.frames
  const { width, height, rate } = frameSize
  const performance = scene.perform(seed)
  const base = join(values.out, scene.file.replace(/\.\w+$/, ''))
  const sound = scene.sound ? ambience(base + '.wav', frames / rate) : []
  const codec =
    scene.codec === 'h264'
      ? ['-c:v', 'libx264', '-crf', '22', '-preset', 'slow', '-g', '48', '-movflags', '+faststart']
      : ['-c:v', 'libvpx-vp9', '-b:v', '0', '-crf', '30', '-g', '48', '-row-mt', '1', '-cpu-used', '2']
  const tags = ['-color_range', 'tv', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709']
  const ffmpeg = spawn(
    ffmpegProgram,
    [
      ...[
        '-y',
        '-loglevel',
        'error',
        '-f',
        'rawvideo',
        '-pix_fmt',
        'yuv420p',
        '-s',
        `${width}x${height}`,
        '-r',
        String(rate),
        '-i',
        '-',
      ],
      ...sound,
      ...codec,
      ...tags,
      ...(scene.sound ? ['-c:a', 'aac', '-b:a', '96k', '-shortest'] : []),
      join(values.out, scene.file),
    ],
    { stdio: ['pipe', 'inherit', 'inherit'] },
  )
  const yuv = new Uint8Array(i420Layout(width, height).bytes)
  for (let frame = 0; frame < frames; frame++) {
    const rgba = film(performance, frame, { seed, noise: Number(values.noise), blur: Number(values.blur) })
    if (frame === Math.min(frames - 1, scene.thumbnail)) writeFileSync(base + '.png', thumbnail(rgba, width, height))
    rgbaToI420(rgba, width, height, yuv)
    if (!ffmpeg.stdin.write(yuv.slice())) await new Promise((resolve) => ffmpeg.stdin.once('drain', resolve))
    if (frame % 12 === 0) console.log(`${scene.name}: frame ${frame} of ${frames}`)
  }
  ffmpeg.stdin.end()
  const code = await new Promise((resolve) => ffmpeg.once('exit', resolve))
  if (code !== 0) throw new Error(`ffmpeg ended with ${code} while writing ${scene.file}.`)
  if (scene.sound) rmSync(base + '.wav')
  writeFileSync(base + '.truth.json', JSON.stringify(truthOf(scene.name, performance, frames, seed)))
}

/** A quarter of the size, for the shelf. */
function thumbnail(rgba: Uint8ClampedArray, width: number, height: number): Uint8Array {
  const [w, h] = [width / 4, height / 4]
  const data = new Uint8Array(w * h * 3)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let c = 0; c < 3; c++) {
        let sum = 0
        for (let k = 0; k < 16; k++) sum += rgba[4 * ((4 * y + (k >> 2)) * width + 4 * x + (k & 3)) + c]!
        data[3 * (y * w + x) + c] = sum / 16
      }
  return encode({ width: w, height: h, data, channels: 3 })
}

/** Wind over water as a WAV file; returns ffmpeg's arguments to read it. */
function ambience(file: string, seconds: number): string[] {
  const rate = 48000
  const count = Math.round(seconds * rate)
  const wav = Buffer.alloc(44 + 2 * count)
  wav.write('RIFF', 0)
  wav.writeUInt32LE(36 + 2 * count, 4)
  wav.write('WAVEfmt ', 8)
  wav.writeUInt32LE(16, 16)
  wav.writeUInt16LE(1, 20)
  wav.writeUInt16LE(1, 22)
  wav.writeUInt32LE(rate, 24)
  wav.writeUInt32LE(2 * rate, 28)
  wav.writeUInt16LE(2, 32)
  wav.writeUInt16LE(16, 34)
  wav.write('data', 36)
  wav.writeUInt32LE(2 * count, 40)
  let [slow, slower] = [0, 0]
  for (let i = 0; i < count; i++) {
    const t = i / rate
    slow += 0.03 * (hashed(i, 1, seed) - 0.5 - slow)
    slower += 0.002 * (hashed(i, 2, seed) - 0.5 - slower)
    const gust = 0.6 + 0.4 * Math.sin(t * 1.7 + seed)
    const lap = Math.max(0, Math.sin(t * 4.1)) ** 6 * 0.5
    wav.writeInt16LE(Math.round(32767 * Math.max(-1, Math.min(1, slow * (gust + lap) * 0.9 + slower * 2))), 44 + 2 * i)
  }
  writeFileSync(file, wav)
  return ['-i', file]
}
