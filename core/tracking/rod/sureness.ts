import { motionAt, slid } from './pose.ts'
import type { RodPath } from './refine.ts'

/** What tells whether a frame is right. */
export interface Signs {
  /** How well the rod shows, 1 where all of it is there. */
  fit: number
  /** How much the hand looks as on its keys, 0 to 1. */
  grip: number
  /** How much better the pose is than slid along its axis by 5 to 12 pixels. */
  slideMargin: number
  /** How much better it is than turned or moved across by a few pixels. */
  acrossMargin: number
}

const slideBy = [-12, -9, -6, 6, 9, 12]

export function signsOf({ views, poses, judge }: RodPath): Signs[] {
  return poses.map((pose, f) => {
    const motion = motionAt(poses, f)
    const view = views[f]!
    const own = judge.own(view, pose, motion)
    const fit = judge.fit(view, pose, motion)
    const slidMost = Math.max(...slideBy.map((by) => judge.own(view, slid(pose, by), motion)))
    return { fit, grip: own - fit, slideMargin: own - slidMost, acrossMargin: 0 }
  })
}

/** How likely each frame of a path is right within 5 px, 0 to 1. */
export function surenessOf(signs: readonly Signs[]): number[] {
  return signs.map(({ fit, slideMargin }) => 1 / (1 + Math.exp(-(-1 + 3 * fit + 8 * slideMargin))))
}
