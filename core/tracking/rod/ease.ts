import { solveSymmetric } from '../../geometry/linear.ts'
import { type AlongGrid, sayer } from './along.ts'
import type { RodPath } from './path.ts'
import { type RodPose, slid } from './pose.ts'

/*
 * Where nothing on a frame says how far the rod has slid along its axis (the hand covered, the tip out of the picture),
 * that comes from the frames on either side: the speed along the axis, as the rod itself feels it, changes evenly.
 */

/** Slides that are compared with where the rod lies, and those beyond which one is another place: steps of a pixel. */
const around: AlongGrid = { slides: 10, lengths: 0, step: 1 }
const other = 5
/** By how much a place must be better than the others to count at all, and to count wholly. */
const tells = { from: 0.01, wholly: 0.11 }
/** What a change of speed counts against a slide away from where a frame that tells wholly was found. */
const evenness = 0.05
/** What even a frame that tells nothing keeps of itself. */
const least = 1e-5

/** Slides every pose of a path that its frame does not hold. */
export function easeAlong(path: RodPath): void {
  const { poses, fixed } = path
  const n = poses.length
  if (n < 4) return
  const said = sayer(path, around)
  const holds = poses.map((_, f) => (fixed[f] ? 1e3 : Math.max(least, toldBy(said(f)))))
  const speeds = poses.map((pose, f) => (f > 0 ? speedAlong(poses[f - 1]!, pose) : 0))
  // Least squares: each slide held at 0, each change of speed at 0.
  const matrix = new Float64Array(n * n)
  const right = new Float64Array(n)
  for (let f = 0; f < n; f++) matrix[f * n + f] = holds[f]!
  for (let f = 1; f + 1 < n; f++) {
    const change = speeds[f + 1]! - speeds[f]!
    const row = [1, -2, 1]
    for (let i = 0; i < 3; i++) {
      right[f - 1 + i]! -= evenness * row[i]! * change
      for (let j = 0; j < 3; j++) matrix[(f - 1 + i) * n + f - 1 + j]! += evenness * row[i]! * row[j]!
    }
  }
  if (!solveSymmetric(matrix, right, n)) return
  for (let f = 0; f < n; f++) if (!fixed[f]) poses[f] = slid(poses[f]!, right[f]!)
}

/** How clearly a frame says how far the rod has slid, 0 to 1. */
function toldBy(says: Float64Array): number {
  const middle = around.slides
  const elsewhere = Math.max(...says.slice(0, middle - other + 1), ...says.slice(middle + other))
  return Math.max(0, Math.min(1, (says[middle]! - elsewhere - tells.from) / (tells.wholly - tells.from)))
}

/** Pixels that the heel goes along the rod from a pose to the next. */
function speedAlong(before: RodPose, { hx, hy, angle }: RodPose): number {
  const middle = (before.angle + angle) / 2
  return (hx - before.hx) * Math.cos(middle) + (hy - before.hy) * Math.sin(middle)
}
