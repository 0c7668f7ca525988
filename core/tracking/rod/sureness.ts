import { tipStepOf } from './along.ts'
import { type Candidate, changeCosts } from './path.ts'
import { farthest, motionAt, motionBetween, movedAcross, slid, speedOf, turnedAbout } from './pose.ts'
import type { RodPath } from './refine.ts'

/** What tells whether a frame of a path is right; all but the first are differences, 0 where nothing is told apart. */
export interface Signs {
  /** How well the rod shows against how well it shows on the keys, 1 where it is the same. */
  fit: number
  /** How much the hand looks as on its keys, 0 to 0.4. */
  grip: number
  /** How much better the pose is than slid along its axis by 5 to 12 half-size pixels. */
  slide: number
  /** How much better it is than moved across, or turned, by a little more than its width. */
  across: number
  /** The step at its tip, and where it comes out of the hand: -1 to 1. */
  tip: number
  hand: number
  /** How much better it is than the best other pose that was found on its frame. */
  other: number
  /** What its changes of motion cost. */
  bent: number
  /** How fast it goes, in parts of its length a frame. */
  speed: number
}

export const signNames = ['fit', 'grip', 'slide', 'across', 'tip', 'hand', 'other', 'bent', 'speed'] as const

const slideBy = [-12, -9, -6, 6, 9, 12]

/** The signs of every frame of a path. `candidates`: everything that was found on each. */
export function signsOf(path: RodPath, candidates: readonly (readonly Candidate[])[]): Signs[] {
  const { views, poses, judge, fixed } = path
  const shown = poses.map((pose, f) => judge.fit(views[f]!, pose, motionAt(poses, f)))
  const keyed = Math.max(0.15, ...shown.filter((_, f) => fixed[f]))
  return poses.map((pose, f) => {
    const motion = motionAt(poses, f)
    const view = views[f]!
    const own = shown[f]! + judge.grip(view, pose)
    const best = (list: readonly (typeof pose)[]) => Math.max(...list.map((one) => judge.own(view, one, motion)))
    const aside = judge.look.widthHeel + 3
    const turned = aside / (0.5 * pose.length)
    const others = candidates[f]!.filter((one) => farthest(one.pose, pose) > 12)
    const triple = f > 0 && f + 1 < poses.length
    return {
      fit: shown[f]! / keyed,
      grip: own - shown[f]!,
      slide: own - best(slideBy.map((by) => slid(pose, by))),
      across:
        own -
        best([
          ...[-aside, aside].map((by) => movedAcross(pose, by)),
          ...[-turned, turned].map((by) => turnedAbout(pose, by)),
        ]),
      ...tipStepOf(view, judge, pose, motion),
      other: own - Math.max(0, ...others.map((one) => one.own)),
      bent: triple ? changeCosts(motionBetween(poses[f - 1]!, pose), motionBetween(pose, poses[f + 1]!), pose) : 0.1,
      speed: speedOf(pose, motion) / pose.length,
    }
  })
}

/** Frames on either side over which confidence is shared: a way that was wrong a moment ago is hardly right now. */
const sharedOver = 4

/** Weights of the signs, clipped to where they tell, and of 1: see docs/following.md for what they were fitted to. */
const weights: Record<keyof Signs, number> & { one: number } = {
  ...{ fit: 3, grip: 0, slide: 8, across: 2, tip: 1, hand: 1, other: 1, bent: -2, speed: 0, one: -2 },
}
const ranges: Record<keyof Signs, [number, number]> = {
  ...{ fit: [0, 1.2], grip: [0, 0.4], slide: [-0.1, 0.3], across: [-0.1, 0.8], tip: [-0.3, 0.8], hand: [-0.3, 0.8] },
  ...{ other: [-0.3, 0.6], bent: [0, 0.4], speed: [0, 0.4] },
}

/** A sign within the range in which it tells. */
export const clippedSign = (signs: Signs, name: keyof Signs): number =>
  Math.max(ranges[name][0], Math.min(ranges[name][1], signs[name]))

/** From where on a look counts as one of a rod, and by how much more it must to be trusted wholly. */
const tells = { from: 0.3, by: 0.25 }

/**
 * How likely each frame of a path is right within 5 px at both ends, 0 to 1: a logistic model of its signs. `told`: how
 * much its keys show of a rod, see RodLook: a key beside the rod makes every frame as wrong as it is.
 */
export function surenessOf(signs: readonly Signs[], told: number): number[] {
  const keyed = Math.max(0, Math.min(1, (told - tells.from) / tells.by))
  const own = signs.map((one) =>
    signNames.reduce((sum, name) => sum + weights[name] * clippedSign(one, name), weights.one),
  )
  return own.map((logit, f) => {
    const near = own.slice(Math.max(0, f - sharedOver), f + sharedOver + 1)
    const shared = near.reduce((a, b) => a + b) / near.length
    return keyed / (1 + Math.exp(-(0.5 * logit + 0.5 * shared)))
  })
}
