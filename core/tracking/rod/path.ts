import type { RodJudge } from './judge.ts'
import { motionBetween, type RodMotion, type RodPose, shortWay } from './pose.ts'
import type { RodView } from './view.ts'

/** A pose that a frame may have, and how well the frame alone speaks for it. */
export interface Candidate {
  pose: RodPose
  own: number
}

/** A path through frames in a row; poses that hands have set stay. */
export interface RodPath {
  views: readonly RodView[]
  poses: RodPose[]
  /** Which of them are set by hand. */
  fixed: readonly boolean[]
  judge: RodJudge
  /** Length that is expected on a frame. */
  lengthAt(f: number): number
  /** Whether the length may differ much from that. */
  loose: boolean
}

/** How much a change of motion counts against what frames show. */
const accelerationCounts = 0.035
/** Changes of motion from a frame to the next that are usual: pixels of the heel, pixels that the tip turns. */
const usual = { heel: 4, turn: 6, turnShare: 0.25, along: 3 }

/** Pixels by which the way of a heel changes from one frame to the next at most. */
const farthestJump = 24

/**
 * What a change of motion costs between three frames in a row, `before` the motion between the first two: hands speed up
 * and slow down, sometimes at once, so the cost has heavy tails.
 */
export function changeCosts(before: RodMotion, now: RodMotion, { angle, length }: RodPose): number {
  const tipSpeed = Math.abs(before.angle) * length
  const [ax, ay] = [now.hx - before.hx, now.hy - before.hy]
  const turn = (shortWay(now.angle - before.angle) * length) / (usual.turn + usual.turnShare * tipSpeed)
  const heel = Math.hypot(ax, ay) / (usual.heel + 0.2 * Math.hypot(before.hx, before.hy))
  // Along its own axis a frame says least of where it is, and a hand seldom lets it run there.
  const along = (ax * Math.cos(angle) + ay * Math.sin(angle)) / (usual.along + 0.1 * tipSpeed)
  // No hand jumps: what lies far off is somebody else.
  const jumped = Math.max(0, Math.hypot(ax, ay) - farthestJump)
  return (
    0.01 * jumped +
    accelerationCounts * (Math.log(1 + heel * heel) + Math.log(1 + turn * turn) + 0.5 * Math.log(1 + along * along))
  )
}

/** What a length costs: against the usual one, and against that of the frame before. */
export function lengthCosts(length: number, before: number, expected: number, loose: boolean): number {
  const { counts, off, grown } = loose ? lengths.loose : lengths.stiff
  const far = (length / expected - 1) / off
  const more = (length - before) / (grown * expected)
  return counts * (Math.log(1 + far * far) + Math.log(1 + more * more))
}
/** How much lengths count, and by which share they usually differ from what is expected and from frame to frame. */
const lengths = {
  stiff: { counts: 0.04, off: 0.06, grown: 0.004 },
  loose: { counts: 0.025, off: 0.12, grown: 0.03 },
}

/**
 * The best way through frames in a row that have one or more candidates each: Viterbi (1967) over pairs of frames, so that
 * a change of motion can be weighed. Returns the candidate's number of each frame.
 */
export function bestWay(
  frames: readonly (readonly Candidate[])[],
  costOfLength: (f: number, length: number, before: number) => number,
): number[] {
  if (frames.length === 1) return [bestOf(frames[0]!)]
  const motions = frames.map((list, f) =>
    f === 0 ? [] : frames[f - 1]!.map((a) => list.map((b) => motionBetween(a.pose, b.pose))),
  )
  // total[i * n + j]: the best way that goes through i on the frame before and j on this one.
  let total = new Float64Array(frames[0]!.length * frames[1]!.length)
  const cameFrom: Int16Array[] = []
  frames[0]!.forEach((a, i) =>
    frames[1]!.forEach((b, j) => {
      total[i * frames[1]!.length + j] = a.own + b.own - costOfLength(1, b.pose.length, a.pose.length)
    }),
  )
  for (let f = 2; f < frames.length; f++) {
    const [before, middle, now] = [frames[f - 2]!, frames[f - 1]!, frames[f]!]
    const next = new Float64Array(middle.length * now.length)
    const from = new Int16Array(middle.length * now.length)
    for (let j = 0; j < middle.length; j++)
      for (let k = 0; k < now.length; k++) {
        const motion = motions[f]![j]![k]!
        let [best, way] = [-Infinity, 0]
        for (let i = 0; i < before.length; i++) {
          const value = total[i * middle.length + j]! - changeCosts(motions[f - 1]![i]![j]!, motion, middle[j]!.pose)
          if (value > best) [best, way] = [value, i]
        }
        const { own, pose } = now[k]!
        next[j * now.length + k] = best + own - costOfLength(f, pose.length, middle[j]!.pose.length)
        from[j * now.length + k] = way
      }
    cameFrom.push(from)
    total = next
  }
  let last = 0
  for (let at = 1; at < total.length; at++) if (total[at]! > total[last]!) last = at
  const columns = frames.at(-1)!.length
  const out = [Math.floor(last / columns), last % columns]
  for (let f = frames.length - 1; f >= 2; f--) {
    const [middle, now] = [out[0]!, out[1]!]
    out.unshift(cameFrom[f - 2]![middle * frames[f]!.length + now]!)
  }
  return out
}

const bestOf = (list: readonly Candidate[]): number =>
  list.reduce((best, one, i) => (one.own > list[best]!.own ? i : best), 0)
