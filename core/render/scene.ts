import type { Contact } from '../motion/contacts.ts'
import { signalReader } from '../motion/signals.ts'
import type { ReadSignal } from '../model/parameters.ts'
import type { TracedPart } from '../shapes/traced.ts'
import type { Diff, Records } from '../model/diff.ts'
import { shotLength, type Effect, type Media, type Part, type Project, type Shot } from '../model/records.ts'
import { keyBefore } from '../shapes/track.ts'
import { shapeOf } from '../shapes/riding.ts'

/** A shot as the renderer sees it. */
export interface Scene {
  shot: Shot
  media: Media
  light: Project['light']
  /** In the order of working, those that are on. */
  effects: Effect[]
  /** Ids of the cast, in its order. */
  members: string[]
  partsOf(member: string): TracedPart[]
  part(id: string): TracedPart | null
  /** What the traced motion says, for drives. */
  read: ReadSignal
  /** Where two members meet. */
  contacts(one: string, other: string): readonly Contact[]
}

/** Null when the shot is gone. */
export function sceneOf(records: Records, shotId: string): Scene | null {
  const shot = records.get('shot', shotId)
  const media = shot && records.get('media', shot.media)
  if (!shot || !media) return null
  const traced = (part: Part): TracedPart => {
    const { id, kind, settings, role } = part
    return { id, kind, settings, role, at: (time) => shapeOf(records, part, time) }
  }
  const partsOf = (member: string) => records.childrenOf('part', member).map(traced)
  return {
    ...signalReader({ length: shotLength(shot), member: partsOf }),
    shot,
    media,
    light: records.all('project')[0]?.light ?? 'linear',
    effects: records.childrenOf('effect', shotId).filter((effect) => effect.on),
    members: records.childrenOf('member', shotId).map((member) => member.id),
    partsOf,
    part: (id) => {
      const part = records.get('part', id)
      return part ? traced(part) : null
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
  let range: { from: number; to: number } | null = null
  const widen = (from: number, to: number) => {
    range = range ? { from: Math.min(range.from, from), to: Math.max(range.to, to) } : { from, to }
  }
  for (const record of [...diff.put, ...inverse.put]) {
    switch (record.type) {
      case 'key': {
        const part = records.get('part', record.part)
        if (!part || records.get('member', part.member)?.shot !== shotId) break
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
        const part = records.get('part', record.part)
        if (part && records.get('member', part.member)?.shot === shotId) widen(record.from - 1, record.to + 1)
        break
      }
      case 'effect':
        if (record.shot === shotId) return everything
        break
      case 'part':
        if (records.get('member', record.member)?.shot === shotId) return everything
        break
      case 'shot':
        if (record.id === shotId) return everything
        break
      case 'mark':
        break
      default:
        return everything
    }
  }
  return range
}
