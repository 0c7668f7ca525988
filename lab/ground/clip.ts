import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ffmpeg } from '../support/ffmpeg.ts'
import { root } from '../support/places.ts'
import { type Case, groundSize } from './cases.ts'
import { composed, type RodTruth } from './compose.ts'

/** Clips that were made before are kept: drawing takes longer than following. */
const kept = join(root, 'node_modules/.cache/wisp-ground')

/** The clip of a case, as a phone would code it, and what is known of its rods. */
export function clipOf(of: Case): { file: string; truth: RodTruth[][] } {
  const sources = readdirSync(import.meta.dirname).sort()
  const drawn = sources.map((file) => readFileSync(join(import.meta.dirname, file), 'utf8')).join('')
  const name = createHash('sha256').update(JSON.stringify(of)).update(drawn).digest('hex').slice(0, 20)
  const [file, told] = [join(kept, `${name}.mp4`), join(kept, `${name}.json`)]
  if (existsSync(told)) return { file, truth: JSON.parse(readFileSync(told, 'utf8')) as RodTruth[][] }
  mkdirSync(kept, { recursive: true })
  const { rgb, truth } = composed(of)
  const { width, height } = groundSize
  ffmpeg(
    [
      ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${width}x${height}`, '-r', String(of.rate), '-i', '-'],
      ...['-vf', 'scale=out_color_matrix=bt709:out_range=tv,format=yuv420p', '-colorspace', 'bt709'],
      ...['-c:v', 'libx264', '-preset', 'fast', '-crf', String(of.crf), '-threads', '1', file],
    ],
    rgb,
  )
  writeFileSync(told, JSON.stringify(truth))
  return { file, truth }
}
