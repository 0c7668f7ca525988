import type { Contact } from '../motion/contacts.ts'
import { brightnessUnder, mixName, noReadings, type Readings, readsMix } from '../motion/readings.ts'
import { signalReader } from '../motion/signals.ts'
import type { ReadSignal } from '../parameters/drives.ts'
import type { Diff } from '../records/diff.ts'
import { joinedShot, joinStart } from '../records/film.ts'
import type { Records } from '../records/records.ts'
import { clipFrame } from '../records/timing.ts'
import {
  type Effect,
  isPictures,
  type Media,
  type Part,
  type Plate,
  type Project,
  type Shot,
  shotLength,
} from '../records/types.ts'
import { tracedPart } from '../shapes/riding.ts'
import type { TracedPart } from '../shapes/traced.ts'
import { keyBefore } from '../shapes/track.ts'

/** A shot as the renderer sees it. */
export interface Scene {
  shot: Shot
  media: Media
  light: Project['light']
  /** What is behind everybody; null where the shot has no clean plate. */
  plate: Plate | null
  /** In the order of working, those that are on. */
  effects: Effect[]
  /** All that are on, also where a view or an earlier card works with some of them only. */
  cards: readonly Effect[]
  /** Ids of the cast, in its order. */
  members: string[]
  partsOf(member: string): TracedPart[]
  part(id: string): TracedPart | null
  /** Frames of another clip to a frame of this shot; 1 where it is gone. */
  rateOf(media: string): number
  /** The next shot and its frame while this one is at `frame`; null where it does not run yet. */
  next(frame: number): { scene: Scene; frame: number } | null
  /** What the traced motion says, for drives. */
  read: ReadSignal
  /** Where two members meet. */
  contacts(one: string, other: string): readonly Contact[]
}

/** Null when the shot is gone. */
export function sceneOf(records: Records, shotId: string, readings: Readings = noReadings): Scene | null {
  const shot = records.get('shot', shotId)
  const media = shot && records.get('media', shot.media)
  if (!shot || !media) return null
  const joined = joinedShot(records, shot)
  /** The cast of this shot and of the one that it is joined to: each in its own time. Nobody else is there. */
  const traced = (part: Part): TracedPart | null => {
    const of = records.get('member', part.member)?.shot
    if (of === shot.id) return tracedPart(records, part)
    return joined && of === joined.shot.id ? tracedPart(records, part, joined.time) : null
  }
  const partsOf = (member: string) => records.childrenOf('part', member).flatMap((part) => traced(part) ?? [])
  let after: Scene | null = null
  const effects = records.childrenOf('effect', shotId).filter((effect) => effect.on)
  return {
    ...signalReader({
      length: shotLength(shot),
      join: joined ? shotLength(shot) - joinStart(shot) : 0,
      member: partsOf,
      brightness(parts, time) {
        const frame = Math.max(0, Math.min(shotLength(shot) - 1, Math.round(time)))
        const luma = readings.luma(media.id, clipFrame(shot, frame))
        return luma && brightnessUnder(parts, frame, luma, isPictures(media) ? 'limited' : media.range)
      },
      loudness(id, time) {
        const mixed = readsMix(records, shot.id, id)
        const levels = readings.levels(mixed ? mixName(shot.id, id) : id || media.id)
        // Another clip's sound begins with the shot, as the mix does.
        const frame = id && id !== media.id ? Math.round(time) : clipFrame(shot, Math.round(time))
        return levels?.[Math.max(0, Math.min(levels.length - 1, frame))] ?? null
      },
    }),
    shot,
    media,
    light: records.all('project')[0]?.light ?? 'linear',
    plate: records.childrenOf('plate', shotId)[0] ?? null,
    effects,
    cards: effects,
    members: records.childrenOf('member', shotId).map((member) => member.id),
    partsOf,
    part: (id) => {
      const part = records.get('part', id)
      return part ? traced(part) : null
    },
    rateOf: (id) => (records.get('media', id)?.rate ?? media.rate) / media.rate,
    next(frame) {
      if (!joined || frame < joinStart(shot)) return null
      after ??= sceneOf(records, joined.shot.id, readings)
      const at = Math.min(shotLength(joined.shot) - 1, Math.round(joined.time(frame)))
      return after && { scene: after, frame: at }
    },
  }
}

/** Frames of a shot whose picture a diff changes, `to` inclusive; null for none. Give the records after the change and its inverse. */
export function affectedFrames(
  records: Records,
  shotId: string,
  diff: Diff,
  inverse: Diff,
): { from: number; to: number } | null {
  const everything = { from: 0, to: Infinity }
  const shot = records.get('shot', shotId)
  const next = shot && joinedShot(records, shot)?.shot.id
  /** Frames that change with anything of a shot: all of this one, those of the join for the next. */
  const framesOf = (id: string | undefined) =>
    id === shotId ? everything : shot && id === next && next ? { from: joinStart(shot), to: Infinity } : null
  const shotOfPart = (id: string) => records.get('member', records.get('part', id)?.member ?? '')?.shot
  let range: { from: number; to: number } | null = null
  const widen = (from: number, to: number) => {
    range = range ? { from: Math.min(range.from, from), to: Math.max(range.to, to) } : { from, to }
  }
  for (const record of [...diff.put, ...inverse.put]) {
    switch (record.type) {
      case 'key': {
        const of = shotOfPart(record.part)
        const all = framesOf(of)
        if (all && of !== shotId) widen(all.from, all.to)
        if (of !== shotId) break
        const keys = records.childrenOf('key', record.part)
        const before = keyBefore(keys, record.frame - 1)
        const after = keys.find((key) => key.frame > record.frame)
        // At the ends the shape may hold, or its motion go on half a frame; one frame more for the shutter.
        widen(
          before > 0 ? keys[before - 1]!.frame - 1 : 0,
          after ? (keys[keys.indexOf(after) + 1]?.frame ?? Infinity) + 1 : Infinity,
        )
        break
      }
      case 'away': {
        const of = shotOfPart(record.part)
        const all = framesOf(of)
        if (of === shotId) widen(record.from - 1, record.to + 1)
        else if (all) widen(all.from, all.to)
        break
      }
      case 'effect':
      case 'part': {
        const all = framesOf(record.type === 'effect' ? record.shot : records.get('member', record.member)?.shot)
        if (all) widen(all.from, all.to)
        break
      }
      case 'shot':
        // A join hangs on the order and the cut of its neighbour.
        if (record.id === shotId || shot?.join) return everything
        break
      case 'mark':
      case 'sound':
        // What hangs on how loud a sound is is drawn anew once that is known.
        break
      default:
        return everything
    }
  }
  return range
}
