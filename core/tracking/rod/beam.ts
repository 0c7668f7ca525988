import type { RodJudge } from './judge.ts'
import { likelyLines } from './lines.ts'
import { type Candidate, changeCosts, lengthCosts } from './path.ts'
import {
  atRest,
  farthest,
  motionBetween,
  movedAcross,
  type RodMotion,
  type RodPose,
  slid,
  turnedAbout,
  turnedAtHeel,
} from './pose.ts'
import type { RodView } from './view.ts'

/** A way that leads to a pose of a frame. */
export interface Way extends Candidate {
  motion: RodMotion
  /** Of the whole way here. */
  total: number
}

/** How a beam may go. */
export interface BeamRules {
  judge: RodJudge
  /** Length that is expected on a frame. */
  lengthAt(frame: number): number
}

/** Ways that are kept from frame to frame. */
const beamWidth = 3
/** Starts of a search that are climbed from. */
const climbed = 2
/** Poses of one frame that are handed on. */
const handedOn = 10

export const startOf = (pose: RodPose): Way => ({ pose, motion: atRest, own: 1, total: 0 })

/**
 * One frame on: from each way, poses around where it would go by itself, and those that `elsewhere` gives, which is told
 * of the best of them. Returns the ways to go on with, and every pose that was found to be possible.
 */
export function stepOn(
  ways: readonly Way[],
  frame: number,
  view: RodView,
  rules: BeamRules,
  elsewhere: (best: Way) => readonly Candidate[],
): { ways: Way[]; candidates: Candidate[] } {
  // Where one way is far ahead of the others, those are not gone any further.
  const gone = ways.filter(({ total }) => total > ways[0]!.total - farAhead)
  const near = gone.flatMap((from) => searched(from, frame, view, rules)).sort((a, b) => b.total - a.total)
  return ranked([...near, ...asWays(elsewhere(near[0]!), ways[0]!)])
}

/** Poses that no way leads to, as if the best way had jumped there. */
function asWays(lines: readonly Candidate[], first: Way): Way[] {
  return lines.map(({ pose, own }) => {
    const motion = motionBetween(first.pose, pose)
    return { pose, motion, own, total: first.total + own - changeCosts(first.motion, motion, first.pose) - lost }
  })
}

function ranked(found: Way[]): { ways: Way[]; candidates: Candidate[] } {
  found.sort((a, b) => b.total - a.total)
  const kept: Way[] = []
  for (const one of found) {
    if (kept.length === beamWidth) break
    if (kept.every((other) => farthest(one.pose, other.pose) > 3)) kept.push(one)
  }
  // Only differences between ways count: the sum stays small.
  const most = kept[0]?.total ?? 0
  return { ways: kept.map((one) => ({ ...one, total: one.total - most })), candidates: different(found, handedOn) }
}

const farAhead = 0.25

/** What it costs to give a way up for something elsewhere in the frame. */
const lost = 0.06

/** The best of some poses that differ. */
export function different(list: readonly Candidate[], count: number): Candidate[] {
  const out: Candidate[] = []
  for (const one of [...list].sort((a, b) => b.own - a.own)) {
    if (out.every((other) => farthest(one.pose, other.pose) > 1.5)) out.push({ pose: one.pose, own: one.own })
    if (out.length === count) break
  }
  return out
}

/** Poses of a frame that need no way there. */
export function linesOf(view: RodView, rules: BeamRules, frame: number): Candidate[] {
  const { judge } = rules
  const poses = likelyLines(view, judge.look, rules.lengthAt(frame), 4)
  const rough = poses
    .map((pose) => ({ pose, ...judge.ownAnyhow(view, pose) }))
    .sort((a, b) => b.own - a.own)
    .slice(0, 3)
  return rough.map(({ pose, motion }) =>
    climbedFrom(pose, [4 / pose.length, 2, 5, 0], 5, (one) => judge.own(view, one, motion, 2)),
  )
}

function searched(from: Way, frame: number, view: RodView, rules: BeamRules): Way[] {
  const { judge, lengthAt } = rules
  const { motion } = from
  const expected = goneOn(from)
  const { length } = expected
  const tipSpeed = Math.abs(motion.angle) * length
  // Far enough to catch a swing that starts or stops between two frames.
  const reach = (16 + 0.75 * tipSpeed) / length
  const gap = Math.max(0.6 * judge.look.widthTip, 0.2 * tipSpeed, 1.5) / length
  const steps = Math.min(14, Math.ceil(reach / gap))
  const shift = 0.3 * Math.hypot(motion.hx, motion.hy) + 2.5
  const coarse: { pose: RodPose; score: number }[] = []
  for (let k = -steps; k <= steps; k++)
    for (const off of [-shift, 0, shift]) {
      const pose = movedAcross(turnedAtHeel(expected, k * gap), off)
      const moved = motionBetween(from.pose, pose)
      const score = judge.fit(view, pose, moved, 3) - changeCosts(motion, moved, from.pose)
      coarse.push({ pose, score })
    }
  coarse.sort((a, b) => b.score - a.score)
  const starts: RodPose[] = []
  for (const { pose } of coarse) {
    if (starts.every((one) => farthest(one, pose) > 4)) starts.push(pose)
    if (starts.length === climbed) break
  }
  const usual = lengthAt(frame)
  return starts.map((start) => {
    const { pose, own: score } = climbedFrom(start, [3 / length, 1.5, 4, 3], 6, (one) => {
      const moved = motionBetween(from.pose, one)
      const costs = changeCosts(motion, moved, from.pose)
      const grown = lengthCosts(one.length, from.pose.length, usual, true)
      return judge.own(view, one, moved, 2) - costs - grown
    })
    const moved = motionBetween(from.pose, pose)
    return { pose, motion: moved, own: judge.own(view, pose, moved), total: from.total + score }
  })
}

/**
 * Uphill in small steps along the ways that a rod can move: turned about its middle, moved across, slid, longer at its
 * tip. `steps`: the first of each, 0 for a way that is not gone.
 */
export function climbedFrom(
  start: RodPose,
  steps: readonly number[],
  rounds: number,
  score: (pose: RodPose) => number,
): Candidate {
  const by = [...steps]
  let best = start
  let value = score(start)
  for (let round = 0; round < rounds; round++)
    for (let way = 0; way < by.length; way++) {
      if (by[way] === 0) continue
      const on = nudged(best, way, by[way]!)
      const ahead = score(on)
      if (ahead > value) {
        best = on
        value = ahead
        continue
      }
      const back = nudged(best, way, -by[way]!)
      const behind = score(back)
      if (behind > value) {
        best = back
        value = behind
        // The way that was right once is tried first the next time.
        by[way] = -by[way]!
      } else by[way] = 0.5 * by[way]!
    }
  return { pose: best, own: value }
}

function nudged(pose: RodPose, way: number, by: number): RodPose {
  switch (way) {
    case 0:
      return turnedAbout(pose, by)
    case 1:
      return movedAcross(pose, by)
    case 2:
      return slid(pose, by)
    case 3:
      return { ...pose, length: Math.max(8, pose.length + by) }
    default:
      return turnedAtHeel(pose, by)
  }
}

/** Where a rod would be after a motion like its last one; along its own axis a hand soon stops. */
export function goneOn({ pose, motion }: Pick<Way, 'pose' | 'motion'>, length = pose.length): RodPose {
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const held = 0.4 * (motion.hx * dx + motion.hy * dy)
  return {
    hx: pose.hx + motion.hx - held * dx,
    hy: pose.hy + motion.hy - held * dy,
    angle: pose.angle + motion.angle,
    length,
  }
}
