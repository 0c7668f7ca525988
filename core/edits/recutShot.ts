import { isColourCurve, isCurve, type Setting } from '../parameters/parameters.ts'
import type { Diff } from '../records/diff.ts'
import type { Records } from '../records/records.ts'
import { type Effect, keyId, type Shot } from '../records/types.ts'

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
  return diff
}

function moved(effect: Effect, by: number): Effect {
  const later = <K extends { frame: number }>(keys: K[]): K[] => keys.map((key) => ({ ...key, frame: key.frame + by }))
  const shifted = <S extends Setting>(value: S): S =>
    isCurve(value)
      ? ({ keys: later(value.keys) } as S)
      : isColourCurve(value)
        ? ({ colours: later(value.colours) } as S)
        : value
  return {
    ...effect,
    opacity: shifted(effect.opacity),
    range: effect.range && { ...effect.range, from: effect.range.from + by, to: effect.range.to + by },
    settings: Object.fromEntries(Object.entries(effect.settings).map(([name, value]) => [name, shifted(value)])),
  }
}
