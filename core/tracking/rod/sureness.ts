import { handStepOf } from './along.ts'
import { type Candidate, changeCosts, type RodPath } from './path.ts'
import { clamp01, farthest, motionAt, motionBetween, movedAcross, slid, turnedAbout } from './pose.ts'

/** What tells whether a frame of a path is right. */
export interface Signs {
  /** How much the hand looks as on its keys, 0 to 0.4. */
  grip: number
  /** How much better the pose is than slid along its axis by 6 to 12 half-size pixels. */
  slide: number
  /** How much better it is than moved across, or turned, by a little more than its width. */
  across: number
  /** The step where it comes out of the hand, -1 to 1. */
  hand: number
  /** How much better it is than the best other pose that was found on its frame. */
  other: number
  /** What its changes of motion cost. */
  bent: number
  /** How much of the rod shows at all, 1 where all of it does. */
  shows: number
}

/** The signs that the confidence is fitted to. */
export const signNames = ['grip', 'slide', 'across', 'hand', 'other', 'bent'] as const
type Weighed = (typeof signNames)[number]

const slideBy = [-12, -9, -6, 6, 9, 12]

/** The signs of every frame of a path. `candidates`: everything that was found on each. */
export function signsOf(path: RodPath, candidates: readonly (readonly Candidate[])[]): Signs[] {
  const { views, poses, judge } = path
  return poses.map((pose, f) => {
    const motion = motionAt(poses, f)
    const view = views[f]!
    const grip = judge.grip(view, pose)
    const shows = judge.fit(view, pose, motion)
    const own = shows + grip
    const best = (list: readonly (typeof pose)[]) => Math.max(...list.map((one) => judge.own(view, one, motion)))
    const aside = judge.look.widthHeel + 3
    const turned = aside / (0.5 * pose.length)
    const others = candidates[f]!.filter((one) => farthest(one.pose, pose) > 12)
    const triple = f > 0 && f + 1 < poses.length
    return {
      grip,
      slide: own - best(slideBy.map((by) => slid(pose, by))),
      across:
        own -
        best([
          ...[-aside, aside].map((by) => movedAcross(pose, by)),
          ...[-turned, turned].map((by) => turnedAbout(pose, by)),
        ]),
      hand: handStepOf(view, judge, pose, motion),
      other: own - Math.max(0, ...others.map((one) => one.own)),
      bent: triple ? changeCosts(motionBetween(poses[f - 1]!, pose), motionBetween(pose, poses[f + 1]!), pose) : 0.1,
      shows,
    }
  })
}

/** Frames on either side over which confidence is shared: a way that was wrong a moment ago is hardly right now. */
const sharedOver = 6

/**
 * Weights of the signs, each clipped to where it tells, and of 1: fitted to drawn rods over filmed clips, see
 * docs/following.md.
 */
const weights: Record<Weighed, number> & { one: number } = {
  ...{ grip: 4.4, slide: 16.4, across: 1.2, hand: 1.2, other: 0.25, bent: -14, one: -2.95 },
}
const ranges: Record<Weighed, [number, number]> = {
  ...{ grip: [0, 0.4], slide: [-0.1, 0.3], across: [-0.1, 0.8], hand: [-0.3, 0.8], other: [-0.3, 0.6], bent: [0, 0.4] },
}

/** A sign within the range in which it tells. */
export const clippedSign = (signs: Signs, name: Weighed): number =>
  Math.max(ranges[name][0], Math.min(ranges[name][1], signs[name]))

/** From where on a look counts as one of a rod, and by how much more it must to be trusted wholly. */
const tells = { from: 0.3, by: 0.25 }
/** How much of a rod must show for it to be there at all, and by how much more it must to be there for sure. */
const there = { from: 0.03, by: 0.1 }

/**
 * How likely each frame of a path is right within 5 px at both ends, 0 to 1: a logistic model of its signs. `told`: how
 * much its keys show of a rod, see RodLook: a key beside the rod makes every frame as wrong as it is. 0 where nothing of
 * the rod shows: it may be anywhere, or hidden.
 */
export function surenessOf(signs: readonly Signs[], told: number): number[] {
  const keyed = clamp01((told - tells.from) / tells.by)
  const own = signs.map((one) =>
    signNames.reduce((sum, name) => sum + weights[name] * clippedSign(one, name), weights.one),
  )
  return own.map((logit, f) => {
    const near = own.slice(Math.max(0, f - sharedOver), f + sharedOver + 1)
    const shared = near.reduce((a, b) => a + b) / near.length
    return (keyed * clamp01((signs[f]!.shows - there.from) / there.by)) / (1 + Math.exp(-(0.5 * logit + 0.5 * shared)))
  })
}
