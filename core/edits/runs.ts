import type { Diff } from '../records/diff.ts'
import { type Key, keyId } from '../records/types.ts'
import { isAway, isHandKey, type Track } from '../shapes/track.ts'

/**
 * What a run of following or carrying over frames from..to (inclusive) leaves of the keys that it made, as one change. A hand
 * may have been at work meanwhile: what it set or marked away stays. What an earlier run had left where this one found
 * nothing goes, unless the run was stopped before it came there.
 */
export function keptRun(
  part: string,
  track: Track,
  made: readonly Key[],
  { from, to, stopped }: { from: number; to: number; stopped: boolean },
): Diff {
  const hands = new Set(track.keys.filter(isHandKey).map((key) => key.frame))
  const put = made.filter((key) => !hands.has(key.frame) && !isAway(track, key.frame))
  const kept = new Set(put.map((key) => key.frame))
  const stale = track.keys.filter(
    (key) => !isHandKey(key) && key.frame >= from && key.frame <= to && !kept.has(key.frame),
  )
  return {
    put: [...put],
    remove: stopped ? [] : stale.map((key) => ({ type: 'key', id: keyId(part, key.frame) })),
  }
}
