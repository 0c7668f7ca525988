import { rodFit, type RodLook } from './evidence.ts'
import { gripFit, gripLook, type GripLook } from './grip.ts'
import { type Emergence, emergenceOf, type LookKey } from './look.ts'
import { atRest, type RodMotion, type RodPose } from './pose.ts'
import type { RodView } from './view.ts'

/** How much the look of the hand counts, where the whole rod counts 1. */
const gripCounts = 0.4

/** Says how well a frame alone speaks for a pose: what hand keys taught of the rod, and of the hand that holds it. */
export class RodJudge {
  readonly look: RodLook
  private readonly hands: readonly GripLook[]
  /** Where the rod comes out of the hand on each of them. */
  readonly emergences: readonly Emergence[]

  /** `keys`: the key before and the key after, as far as there is one. */
  constructor(look: RodLook, keys: readonly LookKey[]) {
    this.look = look
    this.hands = keys.map(({ view, pose }) => gripLook(view, pose))
    this.emergences = keys.map((key) => emergenceOf(key, look))
  }

  fit(view: RodView, pose: RodPose, motion: RodMotion, every = 1): number {
    return rodFit(view, this.look, pose, motion, every)
  }

  grip(view: RodView, pose: RodPose): number {
    let best = 0
    for (const hand of this.hands) best = Math.max(best, gripFit(view, hand, pose))
    return gripCounts * best
  }

  own(view: RodView, pose: RodPose, motion: RodMotion, every = 1): number {
    return rodFit(view, this.look, pose, motion, every) + this.grip(view, pose)
  }

  /** How well a frame speaks for a pose whose motion is not known: the best of a few ways that the tip may go. */
  ownAnyhow(view: RodView, pose: RodPose): { own: number; motion: RodMotion } {
    let best = { own: -Infinity, motion: atRest }
    for (const way of anyWays) {
      const motion = { ...atRest, angle: way / pose.length }
      const own = rodFit(view, this.look, pose, motion, 4)
      if (own > best.own) best = { own, motion }
    }
    return { ...best, own: this.own(view, pose, best.motion) }
  }
}

/** Ways of the tip in a frame that are tried where nothing is known of the motion: pixels. */
const anyWays = [0, 16, 40, 80]
