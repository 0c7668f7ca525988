import { boundsOf } from '../geometry/rect.ts'
import type { Settings } from '../parameters/parameters.ts'
import type { Luma } from '../pixels/buffers/luma.ts'
import type { PartKind } from '../shapes/kind.ts'
import { ghostAt, isAway, shapeAt, type Track } from '../shapes/track.ts'
import type { TweenKey } from '../shapes/tween.ts'
import { usuallyUnsure } from './checks.ts'
import { changeWithin, leaveOut, profileOf, stations, unlikeness } from './evidence.ts'

/** A frame that deserves a key, and why. */
export interface Proposal {
  frame: number
  why: 'start' | 'end' | 'stop' | 'speed' | 'wrong' | 'unsure'
  /** The larger the sooner; for 'wrong' how many times more unlike its keys the picture under the shape is than usual. */
  weight: number
  /** By how many px the in-between may be off there, as its neighbours would be without their keys; of 'wrong' alone. */
  px?: number
}

/** What the plan reads. */
export interface PlanInput {
  kind: PartKind
  settings: Settings
  /** Number of frames of the shot. */
  length: number
  /** The part as it is keyed, in the picture (wherever it rides). */
  track: Track
  /** Shapes of other cast members on a frame, as polygons in plate pixels: what lies on or near them is no evidence. */
  others?(frame: number): number[][]
  /** Brightness of a frame; null while it has not been read. */
  luma(frame: number): Luma | null
}

/** Frames on either side of a key that a proposal of another reason keeps off. */
const keepOff = 2
/** Times more unlike than the keys are among themselves from which on an in-between is taken to be off. */
const suspicious = 1.2
/** Below this an in-between is taken to lie on the picture. */
const unsuspicious = 0.9

/**
 * Frames that deserve a key, the most urgent first: the ends of the shot, then extremes (where the picture's motion
 * around the part stops or turns, then where it changes its speed), then where the in-between is expected to be most
 * wrong, judged by how unlike the picture under it is to the picture under the keys on either side. One frame for each
 * span at a time: the key that is set there changes all that follow from it. Frames where the part is away are left out.
 */
export function keyPlan(input: PlanInput): Proposal[] {
  const { track, length } = input
  const { keys } = track
  if (length === 0) return []
  const keyed = new Set(keys.map((key) => key.frame))
  const free = (frame: number, off: number) => {
    if (isAway(track, frame) || frame < 0 || frame >= length) return false
    for (let f = frame - off; f <= frame + off; f++) if (keyed.has(f)) return false
    return true
  }
  const out = new Map<number, Proposal>()
  const propose = (one: Proposal) => {
    const known = out.get(one.frame)
    if (!known || known.weight < one.weight) out.set(one.frame, one)
  }
  if (free(0, 0)) propose({ frame: 0, why: 'start', weight: 1000 })
  if (free(length - 1, 0)) propose({ frame: length - 1, why: 'end', weight: 999 })
  const doubts = suspicion(input)
  for (const extreme of extremes(motionAround(input))) {
    // An extreme that the in-between meets already deserves no key of its own.
    const met = (doubts[extreme.frame] ?? Infinity) < unsuspicious
    if (!met && free(extreme.frame, keepOff)) propose(extreme)
  }
  for (const worst of worstOfSpans(input, doubts)) propose(worst)
  for (const one of leastSure(track)) propose(one)
  const taken: Proposal[] = []
  for (const one of [...out.values()].sort((a, b) => b.weight - a.weight || a.frame - b.frame))
    if (taken.every((other) => Math.abs(other.frame - one.frame) > keepOff || other.why === 'wrong')) taken.push(one)
  return taken
}

/** Of every stretch of followed frames that are unsure the one that is least so: a key there helps all of them. */
function leastSure({ keys }: Track): Proposal[] {
  const out: Proposal[] = []
  let last = -Infinity
  for (const { frame, followed } of keys) {
    if (followed === null || followed === undefined || followed >= usuallyUnsure) continue
    const one: Proposal = { frame, why: 'unsure', weight: 50 + 10 * (1 - followed) }
    if (frame > last + 1) out.push(one)
    else if (one.weight > out.at(-1)!.weight) out[out.length - 1] = one
    last = frame
  }
  return out
}

/** How much the picture changes around the part from frame to frame, in levels; where the part is unknown, everywhere. */
export function motionAround({ track, luma, length }: PlanInput): Float32Array {
  const out = new Float32Array(length).fill(NaN)
  for (let frame = 1; frame < length; frame++) {
    const [before, now] = [luma(frame - 1), luma(frame)]
    if (!before || !now) continue
    const places = [frame - 1, frame].flatMap((f) => [...(shapeAt(track, f) ?? ghostAt(track, f) ?? [])])
    const room = 24
    const box = places.length
      ? boundsOf(places, room)
      : { x: 0, y: 0, width: now.width * now.reduce, height: now.height * now.reduce }
    out[frame] = changeWithin(before, now, {
      left: box.x,
      top: box.y,
      right: box.x + box.width,
      bottom: box.y + box.height,
    })
  }
  if (length > 1) out[0] = out[1]!
  return out
}

/** Stops and turns (least motion between stretches of more), then changes of speed. */
export function extremes(motion: Float32Array): Proposal[] {
  const smooth = smoothed(motion)
  const known = [...smooth].filter((v) => v === v).sort((a, b) => a - b)
  if (known.length < 5) return []
  const [low, high] = [known[Math.floor(known.length * 0.05)]!, known[Math.floor(known.length * 0.95)]!]
  const swing = high - low
  if (swing < 0.5) return []
  const out: Proposal[] = []
  for (let i = 1; i + 1 < smooth.length; i++) {
    const here = smooth[i]!
    if (!(here <= smooth[i - 1]! && here < smooth[i + 1]!)) continue
    const rise = Math.min(highestUntilLower(smooth, i, -1), highestUntilLower(smooth, i, 1)) - here
    if (rise > 0.12 * swing) out.push({ frame: i, why: 'stop', weight: 100 + rise / swing })
  }
  for (let i = 2; i + 2 < smooth.length; i++) {
    const change = Math.abs(smooth[i + 1]! - smooth[i - 1]!)
    const around = [-2, -1, 1, 2].map((k) => Math.abs((smooth[i + k + 1] ?? NaN) - (smooth[i + k - 1] ?? NaN)))
    if (change > 0.3 * swing && around.every((other) => !(other > change)))
      out.push({ frame: i, why: 'speed', weight: 10 + change / swing })
  }
  return out
}

function highestUntilLower(values: Float32Array, from: number, way: 1 | -1): number {
  let most = values[from]!
  for (let i = from + way; i >= 0 && i < values.length; i += way) {
    if (values[i]! < values[from]!) break
    if (values[i]! > most) most = values[i]!
  }
  return most
}

function smoothed(values: Float32Array): Float32Array {
  return values.map((_, i) => {
    let [sum, weight] = [0, 0]
    for (let k = -2; k <= 2; k++) {
      const v = values[i + k]
      const w = [1, 4, 6, 4, 1][k + 2]!
      if (v === undefined || v !== v) continue
      sum += v * w
      weight += w
    }
    return weight ? sum / weight : NaN
  })
}

/** For each frame between two keys how unlike the picture under the in-between is to that under the keys; null unknown. */
export function suspicion(input: PlanInput): (number | null)[] {
  const { kind, settings, track, luma, length } = input
  const { keys } = track
  const profiles = new Map<number, Float32Array | null>()
  const profileAt = (frame: number): Float32Array | null => {
    let profile = profiles.get(frame)
    if (profile === undefined) {
      const picture = luma(frame)
      const points = shapeAt(track, frame)
      const places = points && stations(kind, points, settings)
      profile = picture && places ? profileOf(picture, places) : null
      if (profile && places) leaveOut(profile, places, input.others?.(frame) ?? [])
      profiles.set(frame, profile)
    }
    return profile
  }
  // What keys next to each other differ by, is what the part itself changes.
  const usual = keys.slice(1).flatMap((key, i) => {
    const [a, b] = [profileAt(keys[i]!.frame), profileAt(key.frame)]
    const value = a && b ? unlikeness(a, b) : null
    return value === null ? [] : [value]
  })
  const middle = usual.sort((a, b) => a - b)[usual.length >> 1] ?? 8
  const floor = Math.max(2.5, middle)
  const out: (number | null)[] = Array<number | null>(length).fill(null)
  for (let k = 0; k + 1 < keys.length; k++) {
    const [a, b] = [keys[k]!.frame, keys[k + 1]!.frame]
    const [pa, pb] = [profileAt(a), profileAt(b)]
    if (!pa || !pb) continue
    for (let f = Math.max(0, a + 1); f < Math.min(length, b); f++) {
      const here = profileAt(f)
      if (!here) continue
      const u = (f - a) / (b - a)
      const expected = pa.map((v, i) => v + (pb[i]! - v) * u)
      const value = unlikeness(here, expected)
      out[f] = value === null ? null : value / floor
    }
  }
  return out
}

/** Px that an in-between may be off by and still be as good as a hand's key; and how much one weighs beside the picture's doubts. */
const goodEnough = 3
const perPx = 0.1
/** Frames of a span of which nothing is known but its ends, and of one on which it is fast, that are halved in any case; px a frame that are fast. */
const halved = { blind: 8, fast: 12, speed: 3 }

/** Keys stand where they are needed most: without one of them more is lost than between two of them. */
const keyedWell = 0.6

/**
 * By how many px the in-betweens of every span between two keys are expected to be off: as far as its keys would be off if they
 * were none, less by the square of how much shorter it is than the span that there would be then. That is how the error of
 * straight pieces goes with their length (de Boor, "A Practical Guide to Splines", 1978, chapter III); it holds for arcs, too.
 * Null where neither end has keys on both of its sides.
 */
export function expectedErrors(track: Track): (number | null)[] {
  const { keys } = track
  const errors = keys.map((key, i) => {
    const [before, after] = [keys[i - 1], keys[i + 1]]
    if (!before || !after) return null
    // No style of in-betweens looks farther than to these.
    const near = keys.slice(Math.max(0, i - 3), i + 4)
    const there = shapeAt({ ...track, keys: near.filter((one) => one !== key) }, key.frame)
    if (there?.length !== key.points.length) return null
    return { px: farthestPoint(there, key.points), span: after.frame - before.frame }
  })
  return keys.slice(1).map((key, i) => {
    const span = key.frame - keys[i]!.frame
    const known = [errors[i], errors[i + 1]].flatMap((one) => one ?? [])
    const sum = known.reduce((all, one) => all + one.px * (span / one.span) ** 2, 0)
    return known.length ? (keyedWell * sum) / known.length : null
  })
}

/** The frame of each span where the in-between is expected to be most wrong, where it is expected to be wrong at all. */
function worstOfSpans(input: PlanInput, doubts: readonly (number | null)[]): Proposal[] {
  const { track, length } = input
  const { keys } = track
  const out: Proposal[] = []
  const errors = expectedErrors(track)
  for (let k = 0; k + 1 < keys.length; k++) {
    const [a, b] = [keys[k]!, keys[k + 1]!]
    if (b.frame - a.frame < 2) continue
    // Where a shape turns far from one key to the next, its in-between is a guess however alike the picture looks.
    const far = turnAndTravel(a.points, b.points)
    const known = errors[k]!
    const px = known ?? 0
    const span = b.frame - a.frame
    // Halves are looked at before anybody says that there is nothing more: three keys may meet a swing by chance.
    const speed = Math.max(...[k - 1, k, k + 1].map((i) => speedOf(keys[i], keys[i + 1])))
    const wide = span >= (known === null ? halved.blind : speed > halved.speed ? halved.fast : Infinity)
    let best: Proposal | null = null
    for (let f = Math.max(0, a.frame + 1); f < Math.min(length, b.frame); f++) {
      if (isAway(track, f)) continue
      const middle = 1 - Math.abs((2 * (f - a.frame)) / (b.frame - a.frame) - 1)
      const weight = (doubts[f] ?? 0) * (0.6 + 0.4 * middle) + (far + perPx * px) * middle
      if (!best || weight > best.weight) best = { frame: f, why: 'wrong', weight, px }
    }
    if (best && (best.weight > suspicious || px > goodEnough || wide)) out.push(best)
  }
  return out
}

/** Px a frame that a shape goes from one key to the next; 0 where there is none. */
const speedOf = (a: TweenKey | undefined, b: TweenKey | undefined): number =>
  a && b ? farthestPoint(a.points, b.points) / (b.frame - a.frame) : 0

/** How far a shape goes between two keys, in parts of a generous span: 1 is about a third of a turn or 400 px. */
const turnAndTravel = (a: readonly number[], b: readonly number[]): number => farthestPoint(a, b) / 400

/** The way between two places of the point that goes farthest. */
function farthestPoint(a: readonly number[], b: readonly number[]): number {
  let most = 0
  for (let i = 0; i < a.length; i += 2) most = Math.max(most, Math.hypot(b[i]! - a[i]!, b[i + 1]! - a[i + 1]!))
  return most
}
