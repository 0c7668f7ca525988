import { makeEffect } from '#core/effects/make.ts'
import { rasterOf } from '#core/pixels/buffers/raster.ts'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { signedDistance } from '#core/pixels/filters/distance.ts'
import { linearOf8Bit, to8Bit } from '#core/pixels/colour/transfer.ts'
import { everywhere } from '#core/records/make.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Effect, Media, Plate } from '#core/records/types.ts'
import { renderFrame } from '#core/render/frame.ts'
import type { OtherPictures, Picture } from '#core/render/picture.ts'
import { type Scene, sceneOf } from '#core/render/scene.ts'
import { hiddenOn } from '#core/render/surroundings.ts'
import { drawClean } from '#core/render/views.ts'
import { makePaintedKey, makePart } from '#core/shapes/make.ts'
import { cleanPlate } from '#core/tracking/cleanPlate.ts'
import { type Case, groundSize } from '../ground/cases.ts'
import { clipOf } from '../ground/clip.ts'
import { backgroundOf, matteOf } from '../ground/compose.ts'
import { ffmpeg } from '../support/ffmpeg.ts'
import { framesOf } from '../support/frames.ts'

/** What becomes of a clip whose performer is taken out and whose surroundings are changed; differences in levels. */
export interface SurroundingsFigure {
  what: string
  plate: boolean
  /** Mean difference of what was filled from the background itself. */
  fill: number
  /** Mean change from frame to frame of what is filled where the background itself does not change. */
  unsteady: number
  /** By job: largest mean difference over columns from two pixels beyond the matte on, and the mean one along its edge. */
  halo: Record<string, number>
  rim: Record<string, number>
  /** Share of the plate that no frame shows. */
  filled: number
  seconds: number
}

const slots = { beyond: new Slot() }
const { width, height } = groundSize
const jobs: Record<string, Effect['settings']> = {
  scroll: { across: 0.37 },
  soften: { amount: 60 },
  grade: { exposure: -2 },
}
const looked = [20, 50]

/** Drawn performers over filmed clips, taken out by their true mattes: with the edge of the hole alone, and with a clean plate. */
export async function surroundingsOf(cases: readonly Case[]): Promise<SurroundingsFigure[]> {
  const out: SurroundingsFigure[] = []
  for (const of of cases.filter((one) => one.body && one.move !== 'passes behind')) {
    // Pictures come from anywhere here: no engine.
    const scratch = new Scratch()
    const { file } = clipOf(of)
    const frames = framesOf(file, width, height)
    const matte = matteOf(of)
    const mattes = new Map<number, Float32Array>()
    const wanted = new Set(looked.flatMap((frame) => [frame, frame + 1]))
    const samples = new Set(Array.from({ length: 32 }, (_, i) => Math.round((i * (frames.length - 1)) / 31)))
    for (let f = 0; f < frames.length; f++) if (wanted.has(f) || samples.has(f)) mattes.set(f, matte(f))
    const base = recordsOf(frames.length, mattes)
    const scene = sceneOf(new Records(base), 's')!
    const start = Date.now()
    const made = (await cleanPlate({
      ...{ length: frames.length, matrix: 'bt709', range: 'limited', told: () => {}, stopped: () => false },
      isTold: (frame) => mattes.has(frame),
      picture: async (frame) => frames[frame]!,
      hidden: (frame) => hiddenOn(scene, frame, groundSize, scratch),
    }))!
    const seconds = (Date.now() - start) / 1000
    const plate: Plate = {
      type: 'plate',
      id: 'p',
      shot: 's',
      media: 'still',
      x: made.x,
      y: made.y,
      from: 0,
      motions: made.motions,
    }
    const others: OtherPictures = ({ media }) => (media === 'still' ? { ...made.picture, alpha: true } : null)
    const films = new Map([...wanted].map((frame) => [frame, pictureOf(file, frame)] as const))
    const background = backgroundOf(of)
    for (const withPlate of [false, true]) {
      const figure = figureOf({ what: of.name, of, withPlate, mattes, films, background, scratch, others }, (effects) =>
        sceneOf(new Records([...base, ...effects, ...(withPlate ? [plate] : [])]), 's')!,
      )
      out.push({ ...figure, filled: made.filled, seconds })
      print(out.at(-1)!)
    }
  }
  return out
}

interface Trial {
  what: string
  of: Case
  withPlate: boolean
  mattes: ReadonlyMap<number, Float32Array>
  films: ReadonlyMap<number, Picture>
  background: (frame: number) => Float32Array
  scratch: Scratch
  others: OtherPictures
}

function figureOf(
  trial: Trial,
  sceneWith: (effects: Effect[]) => Scene,
): Omit<SurroundingsFigure, 'filled' | 'seconds'> {
  const { what, withPlate, mattes, films, background, scratch, others } = trial
  const clean = (frame: number) => {
    const picture = copyOf(films.get(frame)!)
    drawClean(sceneWith([]), ['somebody'], frame, 1, picture, scratch, others)
    return picture
  }
  let [fill, filled, change, still] = [0, 0, 0, 0]
  const halo: Record<string, number> = {}
  const rim: Record<string, number> = {}
  for (const frame of looked) {
    const [now, then] = [codesOf(background(frame)), codesOf(background(frame + 1))]
    const [one, next] = [clean(frame), clean(frame + 1)]
    const [a, b] = [mattes.get(frame)!, mattes.get(frame + 1)!]
    for (let i = 0; i < a.length; i++) {
      if (a[i]! < 0.5) continue
      const apart = (x: Uint32Array, y: Uint32Array) => differ(x[i]!, y[i]!)
      fill += apart(one.words, now)
      filled++
      if (b[i]! < 0.5 || apart(now, then) >= 1) continue
      change += apart(one.words, next.words)
      still++
    }
    const film = films.get(frame)!
    const beyond = signedDistance({ data: a, width, height }, scratch, slots.beyond)
    for (const [kind, settings] of Object.entries(jobs)) {
      const region = { ...everywhere, of: ['somebody'], side: 'outside' as const }
      const effect = makeEffect({ id: 'e', shot: 's', kind, order: 1, region, settings })
      // The true plate: as it was filmed where nobody is, the background alone where somebody is.
      const truth: Picture = { words: now.map((word, i) => (a[i]! > 0 ? word : film.words[i]!)), width, height }
      const under = truth.words.slice()
      renderFrame(sceneWith([{ ...effect, region: everywhere }]), frame, 1, truth, scratch, others)
      const done = copyOf(film)
      renderFrame(sceneWith([effect]), frame, 1, done, scratch, others)
      const columns = new Map<number, { sum: number; count: number }>()
      let [along, edge] = [0, 0]
      for (let i = 0; i < a.length; i++) {
        if (a[i]! <= 0 && beyond[i]! > 2 && beyond[i]! < 40) {
          const at = Math.floor(beyond[i]!)
          const column = columns.get(at) ?? { sum: 0, count: 0 }
          column.sum += signed(done.words[i]!, truth.words[i]!)
          column.count++
          columns.set(at, column)
        } else if (a[i]! > 0 && a[i]! < 0.5) {
          along += differ(done.words[i]!, overlaid(film.words[i]!, under[i]!, truth.words[i]!, a[i]!))
          edge++
        }
      }
      const worst = Math.max(...[...columns.values()].map(({ sum, count }) => Math.abs(sum / count)))
      halo[kind] = Math.max(halo[kind] ?? 0, worst)
      rim[kind] = Math.max(rim[kind] ?? 0, along / Math.max(1, edge))
    }
  }
  return { what, plate: withPlate, fill: fill / filled, unsteady: change / Math.max(1, still), halo, rim }
}

function recordsOf(length: number, mattes: ReadonlyMap<number, Float32Array>): AnyRecord[] {
  const media: Media = {
    ...{ type: 'media', id: 'm', name: 'clip', hash: 'a'.repeat(64), codec: 'avc', audio: '', width, height },
    ...{ rotation: 0, frames: length, rate: 24, variableRate: false, seconds: length / 24, bytes: 1 },
    ...{ matrix: 'bt709', range: 'limited', tagged: true },
  }
  return [
    media,
    { ...media, id: 'still', name: 'still', codec: 'png', frames: 1 },
    { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: length, join: 0 },
    { type: 'member', id: 'somebody', shot: 's', name: 'Somebody', kind: 'performer', colour: 0, order: 1 },
    makePart({ id: 'matte', member: 'somebody', name: 'matte', kind: 'painted', order: 1 }),
    ...[...mattes].flatMap(([frame, matte]) => {
      const raster = rasterOf(
        Uint8Array.from(matte, (v) => Math.round(255 * v)),
        { x: 0, y: 0, width, height },
      )
      return raster ? [makePaintedKey('matte', frame, raster, null)] : []
    }),
  ]
}

function pictureOf(file: string, frame: number): Picture {
  const data = ffmpeg([
    ...['-i', file, '-vf', `select=eq(n\\,${frame})`, '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'],
  ])
  return { words: new Uint32Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.length)), width, height }
}
const copyOf = (picture: Picture): Picture => ({ ...picture, words: picture.words.slice() })

const codesOf = (light: Float32Array): Uint32Array =>
  Uint32Array.from({ length: light.length / 3 }, (_, i) => {
    const code = (c: number) => Math.round(255 * Math.max(0, light[3 * i + c]!) ** (1 / 2.2))
    return (0xff000000 | (code(2) << 16) | (code(1) << 8) | code(0)) >>> 0
  })
/** A pixel of the film with what is behind it, B, changed to R: a F + (1 - a) R with a F = I - (1 - a) B. */
function overlaid(film: number, back: number, changed: number, a: number): number {
  const light = (word: number, shift: number) => linearOf8Bit[(word >>> shift) & 255]!
  const code = (shift: number) => {
    const front = Math.max(0, light(film, shift) - (1 - a) * light(back, shift))
    return to8Bit(front + (1 - a) * light(changed, shift)) << shift
  }
  return (0xff000000 | code(16) | code(8) | code(0)) >>> 0
}
const brightness = (word: number) => ((word & 255) + ((word >>> 8) & 255) + ((word >>> 16) & 255)) / 3
const signed = (a: number, b: number) => brightness(a) - brightness(b)
const differ = (a: number, b: number) =>
  (Math.abs((a & 255) - (b & 255)) +
    Math.abs(((a >>> 8) & 255) - ((b >>> 8) & 255)) +
    Math.abs(((a >>> 16) & 255) - ((b >>> 16) & 255))) /
  3

function print({ what, plate, fill, unsteady, halo, rim, filled, seconds }: SurroundingsFigure): void {
  const list = (of: Record<string, number>) =>
    Object.entries(of)
      .map(([kind, value]) => `${kind} ${value.toFixed(1)}`)
      .join(', ')
  console.log(
    `${what}, ${plate ? `clean plate (${(100 * filled).toFixed(0)} % in no frame, ${seconds.toFixed(0)} s)` : 'edge of the hole'}: ` +
      `off ${fill.toFixed(1)}, unsteady ${unsteady.toFixed(2)}; halo ${list(halo)}; rim ${list(rim)}`,
  )
}
