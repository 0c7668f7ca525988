import { bestSimilarity } from '../geometry/similarity.ts'
import { isAway, shapeAt, type Track } from '../shapes/track.ts'
import type { TweenKey } from '../shapes/tween.ts'

/** Over which frames an edit of a shape counts: this one, all keys, the keys of a range, or fading out on either side. */
export type EditScope =
  { over: 'frame' } | { over: 'all' } | { over: 'range'; from: number; to: number } | { over: 'fade'; frames: number }

export interface FramePoints {
  frame: number
  points: number[]
}

/**
 * The keys that an edit writes: always the one at `frame`, where `before` became `after`, and by the reach other keys
 * too, moved relative to what is there. A shift is the same shift everywhere; any other change turns and grows with
 * the shape, so that a blade made longer is longer in whichever direction it points. A fading edit is full at the
 * frame and gone `frames` + 1 away, where a key is set so that nothing farther off changes.
 */
export function editOverTime(
  track: Track,
  frame: number,
  before: readonly number[],
  after: readonly number[],
  reach: EditScope,
): FramePoints[] {
  const out: FramePoints[] = [{ frame, points: [...after] }]
  if (reach.over === 'frame') return out
  const change = changeOf(before, after)
  for (const key of track.keys) {
    if (key.frame === frame || key.points.length !== before.length) continue
    const weight = weightAt(reach, frame, key.frame)
    if (weight > 0) out.push({ frame: key.frame, points: change(key.points, weight) })
  }
  if (reach.over === 'fade') {
    const [first, last] = [track.keys[0]?.frame ?? 0, track.keys.at(-1)?.frame ?? 0]
    for (const edge of [frame - reach.frames - 1, frame + reach.frames + 1]) {
      if (edge <= first || edge >= last || track.keys.some((key) => key.frame === edge)) continue
      const there = shapeAt(track, edge)
      if (there) out.push({ frame: edge, points: [...there] })
    }
  }
  return out.sort((a, b) => a.frame - b.frame)
}

function weightAt(reach: EditScope, frame: number, at: number): number {
  switch (reach.over) {
    case 'all':
      return 1
    case 'range':
      return at >= reach.from && at <= reach.to ? 1 : 0
    case 'fade': {
      const u = 1 - Math.abs(at - frame) / (reach.frames + 1)
      return u <= 0 ? 0 : u * u * (3 - 2 * u)
    }
    case 'frame':
      return 0
  }
}

function changeOf(before: readonly number[], after: readonly number[]) {
  const delta = after.map((v, i) => v - before[i]!)
  const shift = delta.every((v, i) => Math.abs(v - delta[i % 2]!) < 1e-6)
  return (points: readonly number[], weight: number): number[] => {
    const { ar, ai } = shift ? { ar: 1, ai: 0 } : bestSimilarity(before, points)
    return points.map((v, i) => {
      const [dx, dy] = i % 2 ? [delta[i - 1]!, delta[i]!] : [delta[i]!, delta[i + 1]!]
      return v + weight * (i % 2 ? ai * dx + ar * dy : ar * dx - ai * dy)
    })
  }
}

/** Farthest that a point of two shapes of equal length lies apart, in pixels. */
export function farthestApart(a: readonly number[], b: readonly number[]): number {
  let most = 0
  for (let i = 0; i < a.length; i += 2) most = Math.max(most, Math.hypot(a[i]! - b[i]!, a[i + 1]! - b[i + 1]!))
  return most
}

/** Which keys may go: those within a range, of these those that are let go. */
export interface Thinning {
  from?: number
  to?: number
  mayGo?: (key: TweenKey) => boolean
}

/**
 * Frames of the keys within from..to that the in-betweens already explain: without them no point of the shape moves by
 * more than `tolerance` pixels on any frame. The first and the last key stay, and so do keys whose span has a style of
 * its own, and those that may not go. The key that matters least goes first.
 */
export function thinned(
  track: Track,
  tolerance: number,
  { from = -Infinity, to = Infinity, mayGo = () => true }: Thinning = {},
): number[] {
  const keys = [...track.keys]
  if (keys.length < 3) return []
  const [first, last] = [keys[0]!.frame, keys.at(-1)!.frame]
  const shapes = new Map<number, readonly number[]>()
  for (let f = first; f <= last; f++) if (!isAway(track, f)) shapes.set(f, shapeAt(track, f)!)
  /** How far the shape would move without key `i`; the change reaches two spans to either side. */
  const cost = (i: number): number => {
    const key = keys[i]!
    if (i < 1 || i >= keys.length - 1 || key.frame < from || key.frame > to || key.tween || !mayGo(key)) return Infinity
    const rest = { ...track, keys: keys.filter((_, k) => k !== i) }
    let most = 0
    const end = keys[Math.min(keys.length - 1, i + 2)]!.frame
    for (let f = keys[Math.max(0, i - 2)]!.frame; f <= end && most <= tolerance; f++) {
      const there = shapes.get(f)
      if (there) most = Math.max(most, farthestApart(there, shapeAt(rest, f)!))
    }
    return most
  }
  const costs = keys.map((_, i) => cost(i))
  const dropped: number[] = []
  for (;;) {
    let best = -1
    costs.forEach((c, i) => {
      if (c <= tolerance && (best < 0 || c < costs[best]!)) best = i
    })
    if (best < 0) return dropped.sort((a, b) => a - b)
    dropped.push(keys[best]!.frame)
    keys.splice(best, 1)
    costs.splice(best, 1)
    for (let i = Math.max(1, best - 3); i <= Math.min(keys.length - 2, best + 2); i++) costs[i] = cost(i)
  }
}

/** The shape that the keys around `frame` give without the one there; null where there are none on both sides. */
export function inBetweenAt(track: Track, frame: number): readonly number[] | null {
  const rest: TweenKey[] = track.keys.filter((key) => key.frame !== frame)
  const [first, last] = [rest[0], rest.at(-1)]
  if (!first || !last || frame < first.frame || frame > last.frame) return null
  return shapeAt({ ...track, keys: rest, aways: [] }, frame)
}

/** Where frames go when a range of keys is stretched: `from` stays, what was at `to` comes to `newTo`; whole frames. */
export const stretchedFrame = (frame: number, from: number, to: number, newTo: number): number =>
  to === from ? frame : Math.round(from + ((frame - from) * (newTo - from)) / (to - from))
