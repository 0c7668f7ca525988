import type { Diff } from '../records/diff.ts'
import type { Records } from '../records/records.ts'
import { type Key, keyId, type Part } from '../records/types.ts'
import { isWidthTraced, withoutTracedWidth } from '../shapes/kinds/rod.ts'
import { trackOf } from '../shapes/riding.ts'
import { isAway, isHandKey } from '../shapes/track.ts'
import { traced, widthTraced } from './rodWidth.ts'

/**
 * What a run of following or carrying over frames from..to (inclusive) leaves of the keys that it made, as one change. A hand
 * may have been at work meanwhile: what it set or marked away stays. What an earlier run had left where this one found
 * nothing goes, unless the run was stopped before it came there. Where the run found that a rod's width changes, all keys
 * carry it from then on, unless it was followed on other frames with one width.
 */
export function keptRun(
  records: Records,
  part: Part,
  made: readonly Key[],
  { from, to, stopped }: { from: number; to: number; stopped: boolean },
): Diff {
  const track = trackOf(records, part)
  const tracedWidth = ({ points }: { points: readonly number[] }) => part.kind === 'rod' && isWidthTraced(points)
  const elsewhere = track.keys.some((key) => !isHandKey(key) && (key.frame < from || key.frame > to))
  // What was followed elsewhere with one width keeps it: a correction changes nothing beyond its own frames.
  const widths = track.keys.some(tracedWidth) || (!elsewhere && made.some(tracedWidth))
  const hands = new Set(track.keys.filter(isHandKey).map((key) => key.frame))
  const put = made
    .filter((key) => !hands.has(key.frame) && !isAway(track, key.frame))
    .map((key) => {
      if (widths) return { ...key, points: traced(part, key.points) }
      return tracedWidth(key) ? { ...key, points: withoutTracedWidth(key.points) } : key
    })
  const kept = new Set(put.map((key) => key.frame))
  const stale = track.keys.filter(
    (key) => !isHandKey(key) && key.frame >= from && key.frame <= to && !kept.has(key.frame),
  )
  const gone = new Set(stopped ? [] : stale.map((key) => keyId(part.id, key.frame)))
  const others = widths && put.length > 0 ? widthTraced(records, part).put : []
  return {
    put: [...others.filter((one) => !(one.type === 'key' && (kept.has(one.frame) || gone.has(one.id)))), ...put],
    remove: [...gone].map((id) => ({ type: 'key', id })),
  }
}
