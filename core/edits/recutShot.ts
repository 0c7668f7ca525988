import { isColourCurve, isCurve, type Setting, type Settings } from '../parameters/parameters.ts'
import type { Diff } from '../records/diff.ts'
import type { Records } from '../records/records.ts'
import { type Effect, keyId, type Shot, type Sound } from '../records/types.ts'

/**
 * Cuts a shot anew: `from` and `to` are frames of the clip, `to` the one after the last. Frames of a shot count from
 * its in point, so keys, away ranges and curves move along and stay on their picture; what then lies outside the
 * shot is kept, for the day it is cut longer again.
 */
export function recutShot(records: Records, shot: Shot, from: number, to: number): Diff {
  const diff: Diff = { put: [{ ...shot, in: from, out: to }], remove: [] }
  const by = shot.in - from
  if (by === 0) return diff
  for (const member of records.childrenOf('member', shot.id))
    for (const part of records.childrenOf('part', member.id)) {
      for (const key of records.childrenOf('key', part.id)) {
        diff.remove.push({ type: 'key', id: key.id })
        diff.put.push({ ...key, id: keyId(part.id, key.frame + by), frame: key.frame + by })
      }
      for (const stroke of records.childrenOf('stroke', part.id)) diff.put.push({ ...stroke, frame: stroke.frame + by })
      for (const away of records.childrenOf('away', part.id))
        diff.put.push({ ...away, from: away.from + by, to: away.to + by })
    }
  for (const mark of records.childrenOf('mark', shot.id)) diff.put.push({ ...mark, frame: mark.frame + by })
  for (const effect of records.childrenOf('effect', shot.id)) diff.put.push(moved(effect, by))
  for (const sound of records.childrenOf('sound', shot.id)) diff.put.push(movedSound(sound, by))
  return diff
}

const moved = (effect: Effect, by: number): Effect => ({
  ...effect,
  opacity: shifted(effect.opacity, by),
  range: movedRange(effect.range, by),
  settings: movedSettings(effect.settings, by),
})

const movedSound = (sound: Sound, by: number): Sound => ({
  ...sound,
  beads: sound.beads.map((bead) => ({
    ...bead,
    at: bead.at === null ? null : bead.at + by,
    frame: bead.frame === null ? null : bead.frame + by,
  })),
  range: movedRange(sound.range, by),
  settings: movedSettings(sound.settings, by),
})

const movedRange = (range: Effect['range'], by: number) =>
  range && { ...range, from: range.from + by, to: range.to + by }
const movedSettings = (settings: Settings, by: number): Settings =>
  Object.fromEntries(Object.entries(settings).map(([name, value]) => [name, shifted(value, by)]))

function shifted<S extends Setting>(value: S, by: number): S {
  const later = <K extends { frame: number }>(keys: K[]): K[] => keys.map((key) => ({ ...key, frame: key.frame + by }))
  if (isCurve(value)) return { keys: later(value.keys) } as S
  return isColourCurve(value) ? ({ colours: later(value.colours) } as S) : value
}
