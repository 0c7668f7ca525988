import { createHash } from 'node:crypto'
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { ffmpeg } from '../support/ffmpeg.ts'
import { root } from '../support/places.ts'
import { boardComposed, type BoardTruth } from './board.ts'
import { type Case, groundSize } from './cases.ts'
import { composed, type RodTruth } from './compose.ts'

/** Clips that were made before are kept: drawing takes longer than following. */
const kept = join(root, 'node_modules/.cache/wisp-ground')

/** The clip of a case, as a phone would code it, and what is known of its rods on every frame. */
export const clipOf = (of: Case) => madeClip<RodTruth[][]>(of, 'rods', composed)

/** The same with a printed board in place of performers, and where its corners are on every frame. */
export const boardClipOf = (of: Case) => madeClip<BoardTruth[]>(of, 'board', boardComposed)

function madeClip<T>(
  of: Case,
  what: string,
  compose: (of: Case) => { rgb: Uint8Array; truth: T },
): { file: string; truth: T } {
  const sources = readdirSync(import.meta.dirname).sort()
  const drawn = sources.map((file) => readFileSync(join(import.meta.dirname, file), 'utf8')).join('')
  const name = createHash('sha256').update(JSON.stringify({ what, of })).update(drawn).digest('hex').slice(0, 20)
  const [file, told] = [join(kept, `${name}.mp4`), join(kept, `${name}.json`)]
  if (existsSync(told)) return { file, truth: JSON.parse(readFileSync(told, 'utf8')) as T }
  mkdirSync(kept, { recursive: true })
  const { rgb, truth } = compose(of)
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
