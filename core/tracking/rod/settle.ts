import { type Backdrop, type CameraMotion, colourPicture, type Field, fieldOf } from '../background.ts'
import type { FollowPicture } from '../frame.ts'
import {
  alongAxis,
  gripFit,
  gripLook,
  type GripLook,
  type Motion,
  type RodAppearance,
  rodFit,
  type RodPose,
} from './evidence.ts'

/*
 * What a whole run says more than its frames one by one: how the rod moves before and after each frame, and how long it
 * is, which changes slowly. From both follows where it lies along its own axis, which a frame alone hardly shows.
 */

/** A frame of a run, with the pose that was found for it. */
export interface Posed {
  picture: FollowPicture
  camera: CameraMotion
  /** Polygons of what lies over it. */
  covered: readonly number[][]
  pose: RodPose
}

/** Steps along the axis, in half-size pixels, and how far before the heel and after the tip it is read. */
const step = 0.5
const beyond = 36
/** Slides along the axis that are thought of: up to `reach` half-size pixels from where the rod was found, `by` apart. */
interface Slides {
  reach: number
  by: number
  count: number
}
const slidesOf = (reach: number, by: number): Slides => ({ reach, by, count: Math.round((2 * reach) / by) + 1 })
const slideAt = ({ reach, by }: Slides, k: number) => k * by - reach
/** First how far it has slid, then how far exactly. */
const coarse = slidesOf(beyond, 2)
const fine = slidesOf(5, step)
/** How much the look of the hand counts, where a pixel of rod too much or too little counts 1. */
const gripCounts = 10
/** What a place of the axis says at most, one way or the other. */
const clip = (v: number) => (v !== v ? 0 : Math.max(-1, Math.min(1, 2 * v - 1)))

/** What tells whether a frame is right. */
export interface Signs {
  /** How well the rod shows, see {@link rodFit}. */
  fit: number
  /** How much the hand looks as on the key's frame, 0 to 1. */
  grip: number
  /** How much better the slide is than any other, where a half-size pixel of rod counts 1. */
  slideSharp: number
  /** Half-size pixels that settling moved the pose by. */
  settledBy: number
}

/** The run's poses, settled. The first one is that of the hand key and stays; the length of the key calibrates the rest. */
export function settleRod(
  backdrop: Backdrop,
  look: RodAppearance,
  grip: GripLook,
  run: readonly Posed[],
): { poses: RodPose[]; signs: Signs[] } {
  const poses = run.map((one) => one.pose)
  sharpen(backdrop, look, run, poses, 2)
  // Where a slide came to its limit the rod may lie farther still.
  for (let round = 0; round < 3; round++)
    if (slideAll(backdrop, look, run, poses, coarse, (axes) => axes.map(() => [grip])) < coarse.reach) break
  sharpen(backdrop, look, run, poses, 1)
  slideAll(backdrop, look, run, poses, fine, (axes) => {
    // Where the tip shows, it says where the hand is; what the hand looks like there helps where the tip does not show.
    const sure = axes.flatMap(({ tipSeen }, f) => (tipSeen ? [f] : []))
    const looks = new Map(sure.map((f) => [f, gripLook(colourPicture(run[f]!.picture), poses[f]!)]))
    return axes.map((_, f) => {
      if (looks.has(f)) return [grip]
      const near = [sure.findLast((other) => other < f), sure.find((other) => other > f)]
      const own = near.flatMap((other) => (other === undefined ? [] : [looks.get(other)!]))
      return own.length ? own : [grip]
    })
  })
  return { poses, signs: signsOf(backdrop, look, grip, run, poses) }
}

function signsOf(
  backdrop: Backdrop,
  look: RodAppearance,
  grip: GripLook,
  run: readonly Posed[],
  poses: readonly RodPose[],
): Signs[] {
  const key = axisOf(backdrop, look, run[0]!, poses, 0)
  return run.map((one, f) => {
    const pose = poses[f]!
    const motion = motionAt(poses, f)
    const axis = axisOf(backdrop, look, one, poses, f)
    const hints = gripsAlong(one, pose, coarse, [grip])
    const marks = marksAlong(look, key.pattern, axis.pattern, coarse)
    const values = Array.from(hints, (v, k) => v + marks[k]! + shownAt(axis, slideAt(coarse, k), pose.length))
    const middle = coarse.count >> 1
    const others = values.filter((_, k) => Math.abs(k - middle) > 2)
    return {
      fit: rodFit(axis.field, look, pose, motion, motion).score,
      grip: gripFit(colourPicture(one.picture), grip, pose),
      slideSharp: values[middle]! - Math.max(...others),
      settledBy: farthest(one.pose, pose),
    }
  })
}

const tipOf = ({ hx, hy, angle, length }: RodPose): [number, number] => [
  hx + length * Math.cos(angle),
  hy + length * Math.sin(angle),
]

/** Farthest that an end of two poses lies apart. */
export function farthest(a: RodPose, b: RodPose): number {
  const [[ax, ay], [bx, by]] = [tipOf(a), tipOf(b)]
  return Math.max(Math.hypot(a.hx - b.hx, a.hy - b.hy), Math.hypot(ax - bx, ay - by))
}

/**
 * Puts every pose where it lies along its axis, and as long as it is there; returns the largest slide. `gripsOf`: looks
 * of the hand for every frame.
 */
function slideAll(
  backdrop: Backdrop,
  look: RodAppearance,
  run: readonly Posed[],
  poses: RodPose[],
  slides: Slides,
  gripsOf: (axes: readonly Axis[]) => readonly (readonly GripLook[])[],
): number {
  const frames = run.map((one, f) => axisOf(backdrop, look, one, poses, f))
  const key = frames[0]!
  const grips = gripsOf(frames)
  // How far the end that is seen lies from the one that the hand set: a pole's end may be dark, or the hand generous.
  const off = look.length - edgeOf(key.along, look.length)
  const hints = run.map((one, f) => {
    const hands = gripsAlong(one, poses[f]!, slides, grips[f]!)
    const marks = marksAlong(look, key.pattern, frames[f]!.pattern, slides)
    return hands.map((v, k) => v + marks[k]!)
  })
  const settled = settledAxis(look, poses, frames, hints, Math.abs(off) < 4 ? off : 0, slides)
  settled.forEach(({ slide, length }, f) => {
    if (f > 0) poses[f] = { ...slid(poses[f]!, slide), length }
  })
  return Math.max(...settled.map(({ slide }) => Math.abs(slide)))
}

/** Turns and shifts every pose anew, now that the motion on both sides of its frame is known. */
function sharpen(
  backdrop: Backdrop,
  look: RodAppearance,
  run: readonly Posed[],
  poses: RodPose[],
  rounds: number,
): void {
  for (let round = 0; round < rounds; round++)
    for (let f = 1; f < run.length; f++) {
      const motion = motionAt(poses, f)
      const { picture, camera, covered } = run[f]!
      const field = fieldOf(
        backdrop,
        picture,
        camera,
        boxAround(poses[f]!, 12 + 0.3 * Math.abs(motion.angle) * poses[f]!.length),
        covered,
      )
      const score = (pose: RodPose) => rodFit(field, look, pose, motion, motion).score
      let best = poses[f]!
      let value = score(best)
      // A wide fan has a flat top: the first steps cross it.
      const sweep = 0.15 * Math.abs(motion.angle) * best.length
      const steps = [Math.max(2, sweep) / best.length, Math.max(1, 0.5 * sweep)]
      for (let k = 0; k < 12; k++)
        for (let way = 0; way < 2; way++) {
          const by = steps[way]!
          const options = [by, -by].map((b) => (way ? across(best, b) : turnedAbout(best, b)))
          const values = options.map(score)
          const i = values[0]! > value ? 0 : values[1]! > value ? 1 : -1
          if (i < 0) steps[way]! *= 0.5
          else {
            best = options[i]!
            value = values[i]!
            if (i === 1) steps[way] = -by
          }
        }
      poses[f] = best
    }
}

interface Axis {
  field: Field
  /** See {@link alongAxis}, from -beyond on. */
  along: Float32Array
  /** Sums of what its places say, from the first on. */
  sums: Float64Array
  tipSeen: boolean
  /** Brightness along the axis against one even colour, 1 on average: bands, knots and grips show as ups and downs. */
  pattern: Float32Array
}

function axisOf(
  backdrop: Backdrop,
  look: RodAppearance,
  { picture, camera, covered }: Posed,
  poses: readonly RodPose[],
  f: number,
): Axis {
  const pose = poses[f]!
  const motion = motionAt(poses, f)
  // Along the axis it is read far beyond both ends, across it only as far as the rod sweeps.
  const sweep = Math.abs(motion.angle) * 1.5 * look.length + Math.hypot(motion.hx, motion.hy)
  const reached = { ...slid(pose, -beyond), length: Math.max(1.25 * look.length, pose.length) + 2 * beyond }
  const field = fieldOf(backdrop, picture, camera, boxAround(reached, 8 + look.widthHeel + 0.5 * sweep), covered)
  const along = alongAxis(field, look, pose, motion, { from: -beyond, to: 1.25 * look.length + beyond, step: step })
  const sums = new Float64Array(along.length + 1)
  for (let i = 0; i < along.length; i++) sums[i + 1] = sums[i]! + clip(along[i]!) * step
  const pattern = alongAxis(field, evenly(look), pose, motion, { from: -beyond, to: look.length + beyond, step: step })
  const mean = median([...pattern].filter((v) => v > 0.2)) || 1
  for (let i = 0; i < pattern.length; i++) pattern[i]! /= mean
  // Whether places on both sides of the end say something.
  const end = Math.round((pose.length + beyond) / step)
  let [inside, outside] = [0, 0]
  for (let i = 1; i <= 16; i++) {
    if (along[end - i]! > 0.5) inside++
    if (along[end + i]! < 0.5) outside++
  }
  return { along, sums, tipSeen: inside >= 10 && outside >= 8, pattern, field }
}

/** The look of the rod painted in its mean colour. */
function evenly(look: RodAppearance): RodAppearance {
  const colour = new Float32Array(look.colour.length)
  let count = 0
  look.bare.forEach((bare, i) => {
    if (!bare) return
    count++
    for (let k = 0; k < 3; k++) colour[k]! += look.colour[3 * i + k]!
  })
  if (!count) return look
  for (let i = 0; i < colour.length; i++) colour[i] = i < 3 ? colour[i]! / count : colour[i % 3]!
  return { ...look, colour }
}

/** How much a mark on the rod that lies elsewhere counts, squared, a half-size pixel of rod. */
const markCounts = 25
/** How well the marks along the rod fit at every slide: a negative cost. */
function marksAlong(look: RodAppearance, key: Float32Array, here: Float32Array, slides: Slides): Float32Array {
  const first = Math.max(
    0,
    look.bare.findIndex((bare) => bare > 0),
  )
  const from = Math.round(((first / look.bare.length) * look.length + beyond) / step)
  const to = Math.round((look.length - 2 + beyond) / step)
  const seen = seenIn(here, from, to)
  return Float32Array.from({ length: slides.count }, (_, k) => {
    const by = Math.round(slideAt(slides, k) / step)
    let [sum, count] = [0, 0]
    for (let i = from; i < to; i++) {
      const off = key[i]! - here[i + by]!
      if (off !== off) continue
      sum += Math.min(0.2, off * off)
      count++
    }
    // Over as much of the rod as is seen in the middle: less of it in sight is no better fit.
    return count > 20 ? (-markCounts * step * sum * seen) / count : 0
  })
}
function seenIn(pattern: Float32Array, from: number, to: number): number {
  let count = 0
  for (let i = from; i < to; i++) if (pattern[i]! === pattern[i]!) count++
  return count
}

/** Where the rod ends, by the places around `length`: the end that parts most of what shows from what does not. */
function edgeOf(along: Float32Array, length: number): number {
  let best = { at: length, value: -Infinity }
  const middle = Math.round((length + beyond) / step)
  let sum = 0
  for (let i = middle - 24; i < middle + 24; i++) {
    sum += clip(along[i]!)
    if (sum > best.value) best = { at: (i + 1) * step - beyond, value: sum }
  }
  return best.at
}

/** How well the look of the hand fits at every slide. */
function gripsAlong({ picture }: Posed, pose: RodPose, slides: Slides, looks: readonly GripLook[]): Float32Array {
  const colour = colourPicture(picture)
  return Float32Array.from({ length: slides.count }, (_, k) => {
    const at = slid(pose, slideAt(slides, k))
    let most = 0
    for (const look of looks) most = Math.max(most, gripFit(colour, look, at))
    return most * gripCounts
  })
}

/** What the places say of a rod from the slide on that is so long. */
function shownAt({ sums }: Axis, slide: number, length: number): number {
  const end = Math.max(0, Math.min(sums.length - 1, Math.round((slide + length + beyond) / step)))
  return sums[end]!
}

/** Lengths that are thought of: up to an eighth shorter or longer than at the key, in steps of this many half-size pixels. */
const lengthStep = 1
/** What a change of length by one step costs, and a slide that jumps by its own usual error. */
const changeCosts = 3
/** What every step away from the length of the key costs a frame: where nothing shows the end, that one is likeliest. */
const usualLength = 0.3

/**
 * Length and slide on every frame: what the ends and the hand say, with a length that changes seldom and a hand that
 * moves on smoothly; the best way through all frames at once (Viterbi 1967).
 */
function settledAxis(
  look: RodAppearance,
  poses: readonly RodPose[],
  frames: readonly Axis[],
  hints: readonly Float32Array[],
  bias: number,
  slides: Slides,
): { length: number; slide: number }[] {
  const slideCount = slides.count
  const half = Math.round((0.125 * look.length) / lengthStep)
  const lengths = Array.from({ length: 2 * half + 1 }, (_, i) => look.length + (i - half) * lengthStep)
  const count = lengths.length * slideCount
  // The hand's own motion along the axis, without the jumps of single frames.
  const moves = poses.map((pose, f) => {
    const before = poses[f - 1]
    return before ? (pose.hx - before.hx) * Math.cos(pose.angle) + (pose.hy - before.hy) * Math.sin(pose.angle) : 0
  })
  const usual = moves.map((_, f) => median(moves.slice(Math.max(1, f - 3), f + 4)))
  let total = new Float64Array(count).fill(-1e9)
  total[half * slideCount + (slideCount >> 1)] = 0
  const cameFrom: Int32Array[] = []
  const kept = new Float64Array(count)
  const keptFrom = new Int32Array(count)
  for (let f = 1; f < frames.length; f++) {
    lengthened(total, lengths.length, slideCount, kept, keptFrom)
    const next = new Float64Array(count)
    const from = new Int32Array(count)
    const sigma = 0.8 + 0.15 * Math.abs(usual[f]!)
    const off = moves[f]! - usual[f]!
    for (let i = 0; i < lengths.length; i++)
      for (let k = 0; k < slideCount; k++) {
        // A slide that undoes the jump of the pose costs nothing: only slides near that one come into question.
        const middle = k + Math.round(off / slides.by)
        let best = -Infinity
        let way = 0
        for (let m = Math.max(0, middle - 12); m < Math.min(slideCount, middle + 13); m++) {
          const move = off + (k - m) * slides.by
          const value = kept[i * slideCount + m]! - (move * move) / (2 * sigma * sigma)
          if (value > best) {
            best = value
            way = m
          }
        }
        const at = i * slideCount + k
        next[at] =
          best +
          hints[f]![k]! +
          shownAt(frames[f]!, slideAt(slides, k), lengths[i]! - bias) -
          usualLength * Math.abs(i - half)
        from[at] = keptFrom[i * slideCount + way]!
      }
    cameFrom.push(from)
    total = next
  }
  let state = 0
  for (let i = 1; i < count; i++) if (total[i]! > total[state]!) state = i
  const out: { length: number; slide: number }[] = []
  for (let f = frames.length - 1; ; f--) {
    out.unshift({ length: lengths[Math.floor(state / slideCount)]!, slide: slideAt(slides, state % slideCount) })
    if (f === 0) return out
    state = cameFrom[f - 1]![state]!
  }
}

/** Every state after the length may have changed by a few steps, and which one it came from. */
function lengthened(
  total: Float64Array,
  lengths: number,
  slideCount: number,
  out: Float64Array,
  from: Int32Array,
): void {
  for (let i = 0; i < lengths; i++)
    for (let k = 0; k < slideCount; k++) {
      let best = -Infinity
      for (let j = Math.max(0, i - 4); j < Math.min(lengths, i + 5); j++) {
        const value = total[j * slideCount + k]! - changeCosts * Math.abs(i - j)
        if (value > best) {
          best = value
          from[i * slideCount + k] = j * slideCount + k
        }
      }
      out[i * slideCount + k] = best
    }
}

const median = (values: number[]) => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1] ?? 0
}

/** Motion within a frame: half of what lies between the frames before and after. */
export function motionAt(poses: readonly RodPose[], f: number): Motion {
  const a = poses[Math.max(0, f - 1)]!
  const b = poses[Math.min(poses.length - 1, f + 1)]!
  const by = 1 / Math.max(1, Math.min(poses.length - 1, f + 1) - Math.max(0, f - 1))
  return {
    hx: (b.hx - a.hx) * by,
    hy: (b.hy - a.hy) * by,
    angle: (b.angle - a.angle) * by,
    length: (b.length - a.length) * by,
  }
}

const slid = (pose: RodPose, by: number): RodPose => ({
  ...pose,
  hx: pose.hx + by * Math.cos(pose.angle),
  hy: pose.hy + by * Math.sin(pose.angle),
})
const across = (pose: RodPose, by: number): RodPose => ({
  ...pose,
  hx: pose.hx - by * Math.sin(pose.angle),
  hy: pose.hy + by * Math.cos(pose.angle),
})
/** Turned about its middle: where the heel goes then does not depend on how far it lies off. */
export function turnedAbout(pose: RodPose, by: number): RodPose {
  const angle = pose.angle + by
  const half = pose.length / 2
  return {
    ...pose,
    angle,
    hx: pose.hx + half * (Math.cos(pose.angle) - Math.cos(angle)),
    hy: pose.hy + half * (Math.sin(pose.angle) - Math.sin(angle)),
  }
}

/** Half-size pixels around a pose, with room on every side. */
export function boxAround({ hx, hy, angle, length }: RodPose, room: number) {
  const [tx, ty] = [hx + length * Math.cos(angle), hy + length * Math.sin(angle)]
  const [x, y] = [Math.min(hx, tx) - room, Math.min(hy, ty) - room]
  return { x, y, width: Math.max(hx, tx) + room - x, height: Math.max(hy, ty) + room - y }
}
