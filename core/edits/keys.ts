import type { Diff, RecordRef } from '../records/diff.ts'
import { makeKey, rekeyed } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import { type Away, type Key, keyId, type Part } from '../records/types.ts'
import { partKind } from '../shapes/registry.ts'
import { keyedFrom, likelyShape, trackOf } from '../shapes/riding.ts'
import { withAway } from '../shapes/track.ts'
import { editOverTime, type EditScope } from './overTime.ts'

/**
 * The part shown as `points` (plate pixels, in the picture) on a frame: a key there, and by the scope of the edit on other
 * frames. Where the part was away on the frame it is there again. What a hand places is its own from then on; keys that
 * an edit takes along stay what they were.
 */
export function placed(
  records: Records,
  part: Part,
  frame: number,
  points: readonly number[],
  scope: EditScope,
  newId: () => string,
): Diff {
  const track = trackOf(records, part)
  const before = likelyShape(records, part, frame)
  const other = before ?? track.keys[0]?.points
  const shape = (other && partKind(part.kind).likewise?.(points, other, part.settings)) ?? points
  const own = keyedFrom(records, part, frame, shape)
  const edited =
    before && before.length === own.length
      ? editOverTime(track, frame, keyedFrom(records, part, frame, before), own, scope)
      : [{ frame, points: own }]
  const known = new Map(track.keys.map((key) => [key.frame, key]))
  const back = awayChanged(records, part, [{ from: frame, to: frame }], false, newId)
  const keys = edited.map((one) => {
    const key = known.get(one.frame)
    const followed = one.frame === frame ? null : (key?.followed ?? null)
    return makeKey(part.id, one.frame, one.points, key?.tween ?? '', followed)
  })
  return { put: [...back.put, ...keys], remove: back.remove }
}

/** The part marked away over stretches of frames, both ends inclusive, or there again. */
export function awayChanged(
  records: Records,
  part: Part,
  ranges: readonly { from: number; to: number }[],
  away: boolean,
  newId: () => string,
): Diff {
  const before = records.childrenOf('away', part.id)
  const after = ranges.reduce<readonly { from: number; to: number }[]>(
    (list, { from, to }) => withAway(list, from, to, away),
    before,
  )
  const same = (a: { from: number; to: number }) => (b: { from: number; to: number }) =>
    a.from === b.from && a.to === b.to
  return {
    put: after
      .filter((range) => !before.some(same(range)))
      .map((range): Away => ({ type: 'away', id: newId(), part: part.id, ...range })),
    remove: before.filter((range) => !after.some(same(range))).map(({ id }) => ({ type: 'away', id })),
  }
}

/** The key of a frame with the strokes that it was made from, to be removed. */
export const keyWithStrokes = (records: Records, part: Part, frame: number): RecordRef[] => [
  { type: 'key', id: keyId(part.id, frame) },
  ...records
    .childrenOf('stroke', part.id)
    .flatMap((one) => (one.frame === frame ? [{ type: one.type, id: one.id }] : [])),
]

/** Keys of one part. */
export interface LaneKeys {
  part: Part
  keys: readonly Key[]
}

/**
 * Keys sent to other frames of a shot of `length` frames, or copied there. Where two of them come together the one that lay
 * nearer to where it now stands is kept; keys that were already there are replaced, and undo brings them back.
 */
export function movedKeys(
  lanes: readonly LaneKeys[],
  to: (frame: number) => number,
  { copy, length }: { copy: boolean; length: number },
): Diff {
  const put = new Map<string, Key>()
  const remove: RecordRef[] = []
  for (const { part, keys } of lanes) {
    const far = [...keys].sort((a, b) => Math.abs(to(b.frame) - b.frame) - Math.abs(to(a.frame) - a.frame))
    for (const key of far) {
      const frame = Math.max(0, Math.min(length - 1, to(key.frame)))
      put.set(keyId(part.id, frame), rekeyed(key, key.points, frame))
    }
    if (!copy) remove.push(...keys.filter((key) => !put.has(key.id)).map(({ id }) => ({ type: 'key' as const, id })))
  }
  return { put: [...put.values()], remove }
}

/** The points of all keys of a part changed alike; what rides on it remembers its points: they change, too. */
export function pointsChanged(records: Records, part: Part, change: (points: readonly number[]) => number[]): Diff {
  const keys = records.childrenOf('key', part.id).map((key) => rekeyed(key, change(key.points)))
  const riders = records.all('part').flatMap((rider): Part[] =>
    rider.ride?.from.some((one) => one.part === part.id)
      ? [
          {
            ...rider,
            ride: {
              ...rider.ride,
              from: rider.ride.from.map((one) => (one.part === part.id ? { ...one, points: change(one.points) } : one)),
            },
          },
        ]
      : [],
  )
  return { put: [...keys, ...riders], remove: [] }
}
