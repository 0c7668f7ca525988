import { type AlongGrid, settleAlong } from './along.ts'
import { climbedFrom } from './beam.ts'
import { changeCosts, lengthCosts, type RodPath } from './path.ts'
import { motionAt, motionBetween, type RodPose } from './pose.ts'

/*
 * A whole path made exact, now that the motion on both sides of every frame is known.
 */

/** First how far it has slid and how long it is, then how far and how long exactly. */
export const wide = (loose: boolean): AlongGrid => ({ slides: 14, lengths: loose ? 24 : 5, step: 2 })
export const close: AlongGrid = { slides: 8, lengths: 8, step: 0.5 }

/** Lets others have a turn, says whether to end, and is told what is done. */
export interface Breath {
  stopped(): boolean
  /** So many frames were made exact. */
  did(frames: number): void
  breathe(): Promise<void>
}

/** Times that a path is gone through until it is exact, stiff and loose. */
export const passes = 5

/** Finds every pose anew between its neighbours, once for every grid: along its axis by that, and across it. */
export async function refine(path: RodPath, grids: readonly AlongGrid[], breath: Breath): Promise<void> {
  for (const [round, grid] of grids.entries()) {
    if (breath.stopped()) return
    settleAlong(path, grid)
    await breath.breathe()
    for (let f = 0; f < path.poses.length && !breath.stopped(); f++) {
      climb(path, f, round === 0 ? 6 : 5, round === 0 ? 1 : 0.5)
      breath.did(1 / passes)
      if (f % 8 === 0) await breath.breathe()
    }
  }
}

function climb(
  { views, poses, fixed, judge, lengthAt, loose }: RodPath,
  f: number,
  rounds: number,
  size: number,
): void {
  if (fixed[f]) return
  const motion = motionAt(poses, f)
  // A wide fan has a flat top: the first steps cross it.
  const sweep = 0.15 * Math.abs(motion.angle) * poses[f]!.length
  const { length } = poses[f]!
  const turn = (size * Math.max(2, sweep)) / length
  const steps = [turn, size * Math.max(1, 0.5 * sweep), 0, 0, turn]
  poses[f] = climbedFrom(poses[f]!, steps, rounds, (pose) => {
    const off = lengthCosts(pose.length, poses[f - 1]?.length ?? pose.length, lengthAt(f), loose)
    const on = lengthCosts(poses[f + 1]?.length ?? pose.length, pose.length, lengthAt(f), loose)
    return judge.own(views[f]!, pose, motion) - bent(poses, f, pose) - 0.5 * (off + on)
  }).pose
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
