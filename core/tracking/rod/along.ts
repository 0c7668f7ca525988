import { placesSay, type RodLook } from './evidence.ts'
import type { RodJudge } from './judge.ts'
import { stepAt, stepReach } from './look.ts'
import { lengthCosts, type RodPath } from './path.ts'
import { clamp01, median, motionAt, type RodMotion, type RodPose, slid } from './pose.ts'
import type { RodView } from './view.ts'

/*
 * Where a rod lies along its own axis, and how long it is: a frame alone hardly shows it. The end that is seen says where
 * the tip is, the look of the hand where the heel is; the length changes seldom, and a hand moves on smoothly. The best
 * way through all frames at once.
 */

/** Slides and lengths that are thought of: so many steps to each side, pixels a step. */
export interface AlongGrid {
  slides: number
  lengths: number
  step: number
}

/** What a slide costs that jumps by its usual error in pixels, with heavy tails: less where the length may change, too. */
const jump = { counts: 0.16, countsLoose: 0.05, usual: 2 }
/** What a whole step at the tip counts, where the whole rod counts 1. */
const tipCounts = 0.3
/** Steps by which length and slide change from a frame to the next at most, beyond what is expected. */
const most = { longer: 5, slid: 9 }

/** Slides and lengthens every pose of a path that is not fixed. */
export function settleAlong(path: RodPath, grid: AlongGrid): void {
  const { poses, fixed, lengthAt, loose } = path
  const slides = 2 * grid.slides + 1
  const lengths = 2 * grid.lengths + 1
  const count = slides * lengths
  const n = poses.length
  const off = (k: number, half: number) => (k - half) * grid.step
  // The hand's own motion along the axis, without the jumps of single frames: a slide that undoes a jump costs nothing.
  const moves = poses.map((pose, f) => {
    const before = poses[f - 1]
    return before ? (pose.hx - before.hx) * Math.cos(pose.angle) + (pose.hy - before.hy) * Math.sin(pose.angle) : 0
  })
  const usual = moves.map((_, f) => median(moves.slice(Math.max(1, f - 2), f + 3)))
  const said = sayer(path, grid)
  let total = said(0)
  const fromLength: Int8Array[] = []
  const fromSlide: Int16Array[] = []
  for (let f = 1; f < n; f++) {
    const says = said(f)
    const longer = new Float64Array(count).fill(-Infinity)
    const wayLength = new Int8Array(count)
    const [before, now, expected] = [poses[f - 1]!.length, poses[f]!.length, lengthAt(f)]
    for (let i = 0; i < lengths; i++) {
      const length = now + off(i, grid.lengths)
      const same = clamp(Math.round((length - before) / grid.step) + grid.lengths, lengths - 1)
      for (let m = Math.max(0, same - most.longer); m <= Math.min(lengths - 1, same + most.longer); m++) {
        const costs = lengthCosts(length, before + off(m, grid.lengths), expected, loose)
        for (let k = 0; k < slides; k++) {
          const value = total[m * slides + k]! - costs
          if (value > longer[i * slides + k]!) {
            longer[i * slides + k] = value
            wayLength[i * slides + k] = m
          }
        }
      }
    }
    const next = new Float64Array(count).fill(-Infinity)
    const waySlide = new Int16Array(count)
    const jumped = moves[f]! - usual[f]!
    const scale = jump.usual + 0.15 * Math.abs(usual[f]!)
    for (let k = 0; k < slides; k++) {
      const same = clamp(k + Math.round(jumped / grid.step), slides - 1)
      for (let m = Math.max(0, same - most.slid); m <= Math.min(slides - 1, same + most.slid); m++) {
        const by = (jumped + off(k, grid.slides) - off(m, grid.slides)) / scale
        const costs = (loose ? jump.countsLoose : jump.counts) * Math.log(1 + by * by)
        for (let i = 0; i < lengths; i++) {
          const value = longer[i * slides + m]! - costs
          if (value > next[i * slides + k]!) {
            next[i * slides + k] = value
            waySlide[i * slides + k] = m
          }
        }
      }
    }
    for (let s = 0; s < count; s++) next[s]! += says[s]!
    fromLength.push(wayLength)
    fromSlide.push(waySlide)
    total = next
  }
  let state = 0
  for (let s = 1; s < count; s++) if (total[s]! > total[state]!) state = s
  for (let f = n - 1; f >= 0; f--) {
    const [i, k] = [Math.floor(state / slides), state % slides]
    if (!fixed[f])
      poses[f] = { ...slid(poses[f]!, off(k, grid.slides)), length: poses[f]!.length + off(i, grid.lengths) }
    if (f === 0) break
    const m = fromSlide[f - 1]![state]!
    state = fromLength[f - 1]![i * slides + m]! * slides + m
  }
}

/** Says of a frame what it says of every length and slide, slide after slide for each length. */
export function sayer(path: RodPath, grid: AlongGrid): (f: number) => Float64Array {
  const hands = path.poses.map((_, f) => handsAlong(path, f, grid))
  const alike = hands.map((hand) => Math.max(...hand))
  const usually = median(alike.filter((_, f) => !path.fixed[f]))
  // A hand that is much less like on its keys than usual is covered: what comes out there is no rod out of a hand.
  const uncovered = alike.map((most) => (usually > 0 ? clamp01((most / usually - covered.below) / covered.over) : 1))
  return (f) => saidOf(path, f, grid, hands[f]!, uncovered[f]!)
}

/** What each frame of a path says of it, 1 and more where all of the rod is there, out of a hand as on its keys. */
export function evidences(path: RodPath): number[] {
  const said = sayer(path, { slides: 0, lengths: 0, step: 1 })
  return path.poses.map((_, f) => said(f)[0]!)
}

/** The same on average; keys say nothing. */
export function evidenceOf(path: RodPath): number {
  return mean(evidences(path).filter((_, f) => !path.fixed[f]))
}

/** How well rod and hand fit on the frames of a path, on average. */
export function fitOf({ views, poses, fixed, judge }: RodPath): number {
  const all = poses.flatMap((pose, f) => (fixed[f] ? [] : [judge.own(views[f]!, pose, motionAt(poses, f))]))
  return mean(all)
}
const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length)

/** How like on its keys the hand is for every slide. */
function handsAlong({ views, poses, judge }: RodPath, f: number, grid: AlongGrid): Float64Array {
  const hand = (k: number) => judge.grip(views[f]!, slid(poses[f]!, (k - grid.slides) * grid.step))
  return Float64Array.from({ length: 2 * grid.slides + 1 }, (_, k) => hand(k))
}

/** The share of its usual likeness below which a hand is covered, and over how much more it comes to be seen. */
const covered = { below: 0.72, over: 0.12 }

/** What a frame says of every length and slide. `uncovered`: how much of the hand is seen, 0 to 1. */
function saidOf(
  { views, poses, fixed, judge }: RodPath,
  f: number,
  grid: AlongGrid,
  hands: Float64Array,
  uncovered: number,
): Float64Array {
  const slides = 2 * grid.slides + 1
  const lengths = 2 * grid.lengths + 1
  const out = new Float64Array(slides * lengths)
  const middle = grid.lengths * slides + grid.slides
  if (fixed[f]) {
    out.fill(-1e6)
    out[middle] = 0
    return out
  }
  const [pose, view] = [poses[f]!, views[f]!]
  const ends = tipsAlong(view, judge.look, pose, poses, f, grid)
  const comesOut = emergencesAlong(view, judge, pose, poses, f, grid)
  for (let i = 0; i < lengths; i++)
    for (let k = 0; k < slides; k++) out[i * slides + k] = hands[k]! + uncovered * comesOut[k]! + ends[i + k]!
  return out
}

/** What a frame says of where the rod comes out of the hand, for every slide. */
function emergencesAlong(
  view: RodView,
  { look, emergences }: RodJudge,
  pose: RodPose,
  poses: readonly RodPose[],
  f: number,
  { slides, step }: AlongGrid,
): Float64Array {
  const out = new Float64Array(2 * slides + 1)
  const least = Math.min(...emergences.map(({ at }) => at))
  const most = Math.max(...emergences.map(({ at }) => at))
  const from = least - slides * step - stepReach - 1
  const count = Math.ceil(most + slides * step + stepReach + 2 - from)
  const motion = motionAt(poses, f)
  const says = placesSay(view, look, pose, motion, from, 1, count)
  const behind = placesSay(view, look, pose, motion, -slides * step - behindReach, 2, slides * step + behindReach / 2)
  for (let k = 0; k < out.length; k++) {
    let sticksOut = 0
    for (let i = 0; i < behindReach / 2; i++) sticksOut += Math.max(0, behind[Math.round((k * step) / 2) + i] || 0)
    out[k] = (-behindCounts * 2 * sticksOut) / look.length
    let best = 0
    for (const { at, step: clear } of emergences) {
      const place = Math.round(at + (k - slides) * step - from)
      best = Math.max(best, clear * stepAt(says, place))
    }
    out[k]! += emergenceCounts * best
  }
  return out
}
const emergenceCounts = 0.25
/** Pixels behind the heel over which nothing of the rod may stick out, and how much it counts against where it does. */
const behindReach = 40
const behindCounts = 1.5

/** What a frame says of the tip, for every sum of a length's and a slide's number. */
function tipsAlong(
  view: RodView,
  look: RodLook,
  pose: RodPose,
  poses: readonly RodPose[],
  f: number,
  { slides, lengths, step }: AlongGrid,
): Float64Array {
  const reach = (slides + lengths) * step
  const seen = pose.length - look.tipShort
  const from = Math.max(0.3 * seen, seen - reach - 2 * stepReach)
  const places = Math.ceil(seen + reach + 2 * stepReach - from)
  const says = placesSay(view, look, pose, motionAt(poses, f), from, 1, places)
  // How much rod there is up to each place.
  const sums = new Float64Array(places + 1)
  for (let i = 0; i < places; i++) sums[i + 1] = sums[i]! + (says[i]! || 0)
  return Float64Array.from({ length: 2 * (slides + lengths) + 1 }, (_, k) => {
    const tip = clamp(Math.round(seen + (k - slides - lengths) * step - from), places)
    return -tipCounts * stepAt(says, tip) + sums[tip]! / look.length
  })
}

/** How clear the step is where a pose comes out of the hand: -1 to 1. */
export function handStepOf(view: RodView, { look, emergences }: RodJudge, pose: RodPose, motion: RodMotion): number {
  const step = (at: number) => {
    const from = at - stepReach - 1
    return stepAt(placesSay(view, look, pose, motion, from, 1, 2 * stepReach + 2), stepReach + 1)
  }
  return Math.max(...emergences.map(({ at }) => step(at)))
}

/** A number of a grid: a path that jumps farther than the grid reaches goes by its rim. */
const clamp = (k: number, last: number): number => Math.max(0, Math.min(last, k))
