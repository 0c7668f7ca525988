import { memberMatte } from '../matte/partMatte.ts'
import { type Drive, wholeMix } from '../parameters/drives.ts'
import { isDrive } from '../parameters/parameters.ts'
import { brightnessOfCode, type Luma } from '../pixels/buffers/luma.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { joinedShot } from '../records/film.ts'
import type { Records } from '../records/records.ts'
import type { Media, Shot } from '../records/types.ts'
import { shapesAt, type TracedPart } from '../shapes/traced.ts'

const slots = { brightness: new Slot() }

/** What was read off pictures and sounds, for drives; null where it is not known (yet). */
export interface Readings {
  /** A frame of a clip on a coarse grid. */
  luma(media: string, frame: number): Luma | null
  /** Level of a clip's sound on each of its frames, or of what {@link mixName} names on a shot's, in decibels of full scale. */
  levels(name: string): Float32Array | null
}
export const noReadings: Readings = { luma: () => null, levels: () => null }

/** Readings as they come in. */
export class KeptReadings implements Readings {
  private readonly pictures = new Map<string, (Luma | undefined)[]>()
  private readonly sounds = new Map<string, Float32Array>()

  see(media: string, frame: number, luma: Luma): void {
    let frames = this.pictures.get(media)
    if (!frames) this.pictures.set(media, (frames = []))
    frames[frame] = luma
  }
  hear(name: string, levels: Float32Array): void {
    this.sounds.set(name, levels)
  }
  luma = (media: string, frame: number): Luma | null => this.pictures.get(media)?.[frame] ?? null
  levels = (name: string): Float32Array | null => this.sounds.get(name) ?? null
}

/** Under which name the levels of a shot's sound, or of its whole mix, are read. */
export const mixName = (shot: string, of: string): string => `${shot} ${of}`

/** Whether a drive's source is a sound of the shot, or its mix, and not a clip. */
export const readsMix = (records: Records, shot: string, of: string): boolean =>
  of === wholeMix || records.get('sound', of)?.shot === shot

/**
 * Readings that a shot's drives ask for: its own pictures, those of the shot it is joined to, clips whose sound counts, and
 * sounds of shots.
 */
export interface ReadingsAsked {
  /** Frames of clips, `to` exclusive. */
  seen: { media: string; from: number; to: number }[]
  heard: string[]
  mixed: { shot: string; of: string }[]
}

export function readingsAsked(records: Records, shotId: string): ReadingsAsked {
  const out: ReadingsAsked = { seen: [], heard: [], mixed: [] }
  const shot = records.get('shot', shotId)
  if (!shot) return out
  const next = joinedShot(records, shot)?.shot
  for (const one of next ? [shot, next] : [shot]) {
    const drives = drivesOf(records, one)
    if (drives.some((drive) => drive.signal === 'brightness'))
      out.seen.push({ media: one.media, from: one.in, to: one.out })
    for (const drive of drives)
      if (drive.signal !== 'loudness') continue
      else if (readsMix(records, one.id, drive.of)) {
        if (!out.mixed.some(({ shot, of }) => shot === one.id && of === drive.of))
          out.mixed.push({ shot: one.id, of: drive.of })
      } else {
        const media = records.get('media', drive.of || one.media)
        if (media?.audio && !out.heard.includes(media.id)) out.heard.push(media.id)
      }
  }
  return out
}

const drivesOf = (records: Records, shot: Shot): Drive[] =>
  records
    .childrenOf('effect', shot.id)
    .filter((effect) => effect.on)
    .flatMap((effect) => [effect.opacity, ...Object.values(effect.settings)])
    .filter(isDrive)

/** Plate pixels a pixel of what is kept of a shot's pictures: a third of a thousand across, less for long shots. */
export function coarseness({ width, height }: Pick<Media, 'width' | 'height'>, frames: number): number {
  let reduce = 1
  while (width / reduce > 330 || (width / reduce) * (height / reduce) * frames > 48e6) reduce *= 2
  return reduce
}

const scratch = new Scratch()

/** Mean brightness, 0 for black and 1 for white, of a picture under the matte of parts; null where they are away. */
export function brightnessUnder(
  parts: readonly TracedPart[],
  time: number,
  luma: Luma,
  range: Media['range'],
): number | null {
  const shapes = shapesAt(parts, time)
  if (!shapes.some((part) => part.points)) return null
  const { data, width, height, reduce } = luma
  const cover = memberMatte(shapes, 1 / reduce, { x: 0, y: 0, width, height }, scratch, slots.brightness)
  let [sum, weight] = [0, 0]
  for (let i = 0; i < cover.length; i++) {
    const share = cover[i]!
    if (share === 0) continue
    sum += share * data[i]!
    weight += share
  }
  // Outside of the picture there is nothing to be bright.
  return weight > 0 ? brightnessOfCode(sum / weight, range) : null
}
