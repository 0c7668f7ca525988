import { climbedFrom } from './beam.ts'
import type { RodJudge } from './judge.ts'
import { changeCosts, lengthCosts } from './path.ts'
import { motionAt, motionBetween, type RodPose, slid } from './pose.ts'
import type { RodView } from './view.ts'

/*
 * A whole path made exact, now that the motion on both sides of every frame is known.
 */

/** A path through frames in a row; poses that hands have set stay. */
export interface RodPath {
  views: readonly RodView[]
  poses: RodPose[]
  /** Which of them are set by hand. */
  fixed: readonly boolean[]
  judge: RodJudge
  lengthAt(f: number): number
  loose: boolean
}

/** Slides along the axis that are thought of: so many pixels to each side, so far apart. */
const slides = { reach: 20, by: 1.25 }
const slideCount = 2 * Math.round(slides.reach / slides.by) + 1
const slideOf = (k: number) => (k - (slideCount >> 1)) * slides.by
/** What a slide that jumps by so many pixels costs, with heavy tails. */
const jump = { counts: 0.035, usual: 2 }

/** Finds every pose anew between its neighbours, `rounds` times. */
export function refine(path: RodPath, rounds: number): void {
  for (let round = 0; round < rounds; round++) {
    slideAll(path)
    climbAll(path, round === 0 ? 6 : 5, round === 0 ? 1 : 0.5)
  }
}

/** Frames from whose slide all others follow. */
function slideAll({ views, poses, fixed, judge }: RodPath): void {
  const n = poses.length
  const middle = slideCount >> 1
  const says = poses.map((pose, f) => {
    const motion = motionAt(poses, f)
    return Float64Array.from({ length: slideCount }, (_, k) =>
      fixed[f] ? (k === middle ? 0 : -1e6) : judge.own(views[f]!, slid(pose, slideOf(k)), motion),
    )
  })
  // The hand's own motion along the axis, without the jumps of single frames: a slide that undoes a jump costs nothing.
  const moves = poses.map((pose, f) => {
    const before = poses[f - 1]
    return before ? (pose.hx - before.hx) * Math.cos(pose.angle) + (pose.hy - before.hy) * Math.sin(pose.angle) : 0
  })
  const usual = moves.map((_, f) => median(moves.slice(Math.max(1, f - 2), f + 3)))
  let total = says[0]!
  const cameFrom: Int16Array[] = []
  for (let f = 1; f < n; f++) {
    const next = new Float64Array(slideCount)
    const from = new Int16Array(slideCount)
    const off = moves[f]! - usual[f]!
    const scale = jump.usual + 0.15 * Math.abs(usual[f]!)
    for (let k = 0; k < slideCount; k++) {
      let [best, way] = [-Infinity, 0]
      for (let m = 0; m < slideCount; m++) {
        const by = (off + slideOf(k) - slideOf(m)) / scale
        const value = total[m]! - jump.counts * Math.log(1 + by * by)
        if (value > best) [best, way] = [value, m]
      }
      next[k] = best + says[f]![k]!
      from[k] = way
    }
    cameFrom.push(from)
    total = next
  }
  let at = 0
  for (let k = 1; k < slideCount; k++) if (total[k]! > total[at]!) at = k
  for (let f = n - 1; f >= 0; f--) {
    if (!fixed[f]) poses[f] = slid(poses[f]!, slideOf(at))
    if (f > 0) at = cameFrom[f - 1]![at]!
  }
}

function climbAll(path: RodPath, rounds: number, size: number): void {
  const { views, poses, fixed, judge, lengthAt, loose } = path
  for (let f = 0; f < poses.length; f++) {
    if (fixed[f]) continue
    const motion = motionAt(poses, f)
    // A wide fan has a flat top: the first steps cross it.
    const sweep = 0.15 * Math.abs(motion.angle) * poses[f]!.length
    const { length } = poses[f]!
    const steps = [
      (size * Math.max(2, sweep)) / length,
      size * Math.max(1, 0.5 * sweep),
      2 * size,
      loose ? 2 * size : 0.004 * length * size,
      (size * Math.max(2, sweep)) / length,
    ]
    poses[f] = climbedFrom(poses[f]!, steps, rounds, (pose) => {
      const off = lengthCosts(pose.length, poses[f - 1]?.length ?? pose.length, lengthAt(f), loose)
      const on = lengthCosts(poses[f + 1]?.length ?? pose.length, pose.length, lengthAt(f), loose)
      return judge.own(views[f]!, pose, motion) - bent(poses, f, pose) - 0.5 * (off + on)
    }).pose
  }
}

/** What a pose costs for the changes of motion around it. */
function bent(poses: readonly RodPose[], f: number, pose: RodPose): number {
  let sum = 0
  const at = (i: number) => (i === f ? pose : poses[i])
  for (let i = f - 1; i <= f + 1; i++) {
    const [a, b, c] = [at(i - 1), at(i), at(i + 1)]
    if (a && b && c) sum += changeCosts(motionBetween(a, b), motionBetween(b, c), b)
  }
  return sum
}

/** What the path is worth: what frames say of it, less what its changes of motion cost. */
export function worthOf({ views, poses, judge, fixed, lengthAt, loose }: RodPath): number {
  let sum = 0
  for (let f = 0; f < poses.length; f++) {
    if (!fixed[f]) sum += judge.own(views[f]!, poses[f]!, motionAt(poses, f))
    const before = poses[f - 1]
    if (before) sum -= lengthCosts(poses[f]!.length, before.length, lengthAt(f), loose)
    if (f > 1) sum -= changeCosts(motionBetween(poses[f - 2]!, before!), motionBetween(before!, poses[f]!), before!)
  }
  return sum / Math.max(1, poses.length)
}

const median = (values: number[]): number => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[sorted.length >> 1] ?? 0
}
