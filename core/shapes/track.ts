import type { Away, Tween } from '../records/types.ts'
import { betweenKeys, tween, type TweenKey } from './tween.ts'

/** What is known of one part over the frames of its shot: keys sorted by frame, ranges without the part. */
export interface Track {
  keys: readonly TweenKey[]
  aways: readonly Pick<Away, 'from' | 'to'>[]
  tween: Tween
  /** Whether the shape stays before the first and after the last key. */
  hold: boolean
  /** Whether it is there on the frames of its keys only, with nothing between them. */
  exact?: boolean
}

/** Index of the last key at or before `time`, -1 where there is none. */
export function keyBefore(keys: readonly { frame: number }[], time: number): number {
  let low = 0
  let high = keys.length
  while (low < high) {
    const mid = (low + high) >> 1
    if (keys[mid]!.frame <= time) low = mid + 1
    else high = mid
  }
  return low - 1
}

/** The key of the frame that a time falls in. */
export function keyAt<K extends { frame: number }>({ keys }: { keys: readonly K[] }, time: number): K | undefined {
  const frame = Math.floor(time + 0.5)
  const key = keys[keyBefore(keys, frame)]
  return key?.frame === frame ? key : undefined
}

export const isAway = (track: Pick<Track, 'aways'>, frame: number): boolean =>
  track.aways.some((range) => range.from <= frame && frame <= range.to)

/**
 * The shape at `time` (real, in frames of the shot), or null where the part is away or not traced. A frame's
 * shape is there for half a frame on either side, going on as the nearest span moves, so that an open shutter at
 * the first or last key sees the motion too.
 */
export function shapeAt(track: Track, time: number): readonly number[] | null {
  const { keys } = track
  if (keys.length === 0 || isAway(track, Math.floor(time + 0.5))) return null
  if (track.exact) return keyAt(track, time)?.points ?? null
  const first = keys[0]!
  const last = keys[keys.length - 1]!
  if (time < first.frame || time > last.frame) {
    const end = time < first.frame ? first : last
    if (Math.abs(time - end.frame) > 0.5 || keys.length === 1)
      return track.hold || Math.abs(time - end.frame) <= 0.5 ? end.points : null
    return betweenKeys(keys, end === first ? 0 : keys.length - 2, time, track.tween)
  }
  const before = keyBefore(keys, time)
  const a = keys[before]!
  return before === keys.length - 1 || a.frame === time ? a.points : betweenKeys(keys, before, time, track.tween)
}

/** Whether a hand set the key: following goes by it and never changes it. */
export const isHandKey = (key: Pick<TweenKey, 'followed'>): boolean =>
  key.followed === null || key.followed === undefined

export type CellState = 'key' | 'followed' | 'between' | 'held' | 'away' | 'none'

/** What the frame sheet shows at a frame. A key that lies in an away range stays a key, unseen by the effects. */
export function cellAt(track: Track, frame: number): CellState {
  const { keys } = track
  const before = keyBefore(keys, frame)
  const here = keys[before]
  if (here?.frame === frame) return isHandKey(here) ? 'key' : 'followed'
  if (isAway(track, frame)) return 'away'
  if (track.exact) return 'none'
  if (before >= 0 && before < keys.length - 1) return 'between'
  return keys.length > 0 && track.hold ? 'held' : 'none'
}

/**
 * The ghost: where the shape is likely to be on a frame without a key. Between keys it is the in-between; past
 * the last key (or before the first) the motion of the nearest span goes on, turning as it turned. Null without keys.
 */
export function ghostAt(track: Track, frame: number): readonly number[] | null {
  const { keys } = track
  if (track.exact) return keyAt(track, frame)?.points ?? null
  if (keys.length === 0) return null
  if (keys.length === 1) return keys[0]!.points
  const last = keys[keys.length - 1]!
  const first = keys[0]!
  if (frame > last.frame) return goOn(keys[keys.length - 2]!, last, frame)
  if (frame < first.frame) return goOn(keys[1]!, first, frame)
  const before = keyBefore(keys, frame)
  return before === keys.length - 1 ? last.points : betweenKeys(keys, before, frame, track.tween)
}

function goOn(from: Track['keys'][number], to: Track['keys'][number], frame: number): number[] {
  // A motion says little beyond its own length: after that the ghost waits instead of flying off.
  const u = Math.min(2, (frame - from.frame) / (to.frame - from.frame))
  return tween(from.points, to.points, u, 'arc')
}

/**
 * Share of `frames` that are traced, 0 to 1: keys, in-betweens and away count, what is merely held on does not, unless
 * something carries it (`rides`).
 */
export function tracedShare(track: Track, frames: number, rides = false): number {
  const { keys, aways, hold } = track
  const [first, last] = [keys[0]?.frame, keys.at(-1)?.frame]
  if (first !== undefined && hold && rides) return frames ? 1 : 0
  if (track.exact) {
    let done = 0
    for (let f = 0; f < frames; f++) if (isAway(track, f) || keyAt(track, f)) done++
    return frames ? done / frames : 0
  }
  const known = first === undefined ? aways : withAway(aways, first, last!, true)
  const done = known.reduce(
    (sum, { from, to }) => sum + Math.max(0, Math.min(frames - 1, to) - Math.max(0, from) + 1),
    0,
  )
  return frames ? done / frames : 0
}

/** The away ranges after `from`..`to` was marked away, or marked as there again: sorted, apart, merged. */
export function withAway(
  ranges: readonly { from: number; to: number }[],
  from: number,
  to: number,
  away: boolean,
): { from: number; to: number }[] {
  const out = ranges.flatMap((range) => [
    { from: range.from, to: Math.min(range.to, from - 1) },
    { from: Math.max(range.from, to + 1), to: range.to },
  ])
  if (away) out.push({ from, to })
  out.sort((a, b) => a.from - b.from)
  const merged: { from: number; to: number }[] = []
  for (const range of out) {
    if (range.from > range.to) continue
    const previous = merged[merged.length - 1]
    if (previous && previous.to + 1 >= range.from) previous.to = Math.max(previous.to, range.to)
    else merged.push({ ...range })
  }
  return merged
}

/** Frames, from the first on, as stretches of neighbours. */
export function stretchesOf(frames: readonly number[]): { from: number; to: number }[] {
  const out: { from: number; to: number }[] = []
  for (const frame of frames) {
    const last = out.at(-1)
    if (last?.to === frame - 1) last.to = frame
    else out.push({ from: frame, to: frame })
  }
  return out
}
