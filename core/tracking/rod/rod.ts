import { unite } from '../../geometry/rect.ts'
import { type Backdrop, type CameraMotion, colourPicture, type Field, fieldOf } from '../background.ts'
import type { FollowPicture } from '../frame.ts'
import type { Estimate } from '../plane.ts'
import {
  gripAdded,
  gripFit,
  gripLook,
  type GripLook,
  type Motion,
  type RodAppearance,
  rodFit,
  type RodFit,
  rodLook,
  type RodPose,
} from './evidence.ts'
import { boxAround, farthest, type Posed, settleRod, type Signs, turnedAbout } from './settle.ts'

/** Poses that are kept from frame to frame. */
const beamWidth = 6
/** How much the look of the hand counts against the whole rod. */
const gripWeight = 0.35

export interface RodStart {
  picture: FollowPicture
  /** [heel x, heel y, tip x, tip y] in plate pixels. */
  points: readonly number[]
  widthHeel: number
  widthTip: number
  backdrop: Backdrop
}

interface Candidate {
  pose: RodPose
  motion: Motion
  fit: RodFit
  grip: number
  /** Score of this frame alone, and of the whole way here. */
  own: number
  total: number
  /** What the hand looked like lately on this way. */
  held: GripLook
  from: Candidate | null
}

const nowhere: CameraMotion = { map: [1, 0, 0, 0, 1, 0, 0, 0, 1], light: { gain: 1, offset: 0 } }
const atRest: Motion = { hx: 0, hy: 0, angle: 0, length: 0 }

/** Pose in half-size pixels of a rod's points in plate pixels, and back. */
export function poseOf(points: readonly number[]): RodPose {
  const [hx, hy, tx, ty] = points.map((v) => v / 2) as [number, number, number, number]
  return { hx, hy, angle: Math.atan2(ty - hy, tx - hx), length: Math.hypot(tx - hx, ty - hy) }
}
export const pointsOf = ({ hx, hy, angle, length }: RodPose): number[] => [
  2 * hx,
  2 * hy,
  2 * (hx + length * Math.cos(angle)),
  2 * (hy + length * Math.sin(angle)),
]

/**
 * Follows a thin, fast, blurred prop away from a frame on which a hand has set it. A rod has no corners to hold on to;
 * it is found as what differs from the backdrop in its own colours, with the blur of its own motion, and by the look of
 * the hand that holds it. The few best ways are kept from frame to frame, each going on as it moved.
 */
export class RodFollower {
  private readonly backdrop: Backdrop
  private readonly look: RodAppearance
  private readonly grip: GripLook
  private beam: Candidate[]
  private readonly first: Omit<Posed, 'pose'>
  private readonly seen: (Omit<Posed, 'pose'> | null)[] = []

  constructor({ picture, points, widthHeel, widthTip, backdrop }: RodStart) {
    this.backdrop = backdrop
    const pose = poseOf(points)
    const motion = backdrop.motion(picture)
    const colour = colourPicture(picture)
    const field = motion
      ? fieldOf(backdrop, picture, motion, boxAround(pose, 8))
      : { data: new Float32Array(0), x: 0, y: 0, width: 0, height: 0 }
    this.look = rodLook(colour, field, pose, widthHeel / 2, widthTip / 2)
    this.grip = gripLook(colour, pose)
    const fit = rodFit(field, this.look, pose, atRest, atRest)
    this.beam = [{ pose, motion: atRest, fit, grip: 1, own: 0, total: 0, held: this.grip, from: null }]
    this.first = { picture, camera: motion ?? nowhere, covered: [] }
  }

  /** On to the next frame. */
  step(picture: FollowPicture, covered: readonly number[][]): Estimate | null {
    const camera = this.backdrop.motion(picture)
    this.seen.push(camera && { picture, camera, covered })
    if (!camera) return null
    const ways = this.beam.map((from) => ({ from, expected: goneOn(from.pose, from.motion) }))
    const boxes = ways.map(({ from, expected }) => boxAround(expected, 20 + 1.2 * speedOf(from.pose, from.motion)))
    const field = fieldOf(this.backdrop, picture, camera, boxes.reduce(unite), covered)
    const frame: Frame = { field, colour: colourPicture(picture) }
    const next = ways.flatMap(({ from, expected }) => this.search(frame, from, expected))
    const kept = apart(next.sort((a, b) => b.total - a.total))
    const best = kept[0]
    if (!best) return null
    // Only differences between ways count: the sum stays small.
    const { total } = best
    for (const one of kept) one.total -= total
    // The hand turns in the light: besides how it looked on the key frame counts how it looks by now.
    for (const one of kept) one.held = gripAdded(one.held, gripLook(frame.colour, one.pose), 0.3)
    this.beam = kept
    // How sure it is shows when the run is settled; until then what shows of the rod has to do.
    return { points: pointsOf(best.pose), confidence: best.fit.shown }
  }

  /** The whole run again, by what is known of all of its frames: as many estimates as there were steps. */
  settled(): (Estimate | null)[] {
    const way: Candidate[] = []
    for (let one: Candidate | null = this.beam[0]!; one; one = one.from) way.unshift(one)
    const run = way.slice(1).map((one, i) => ({ ...this.seen.filter((seen) => seen !== null)[i]!, pose: one.pose }))
    const first = { ...this.first, pose: way[0]!.pose }
    const { poses, signs } = settleRod(this.backdrop, this.look, this.grip, [first, ...run])
    const confidence = surenessOf(signs)
    let at = 0
    return this.seen.map((seen) => {
      if (!seen) return null
      at++
      return { points: pointsOf(poses[at]!), confidence: confidence[at]! }
    })
  }

  private search(frame: Frame, from: Candidate, expected: RodPose): Candidate[] {
    const { motion } = from
    const tipSpeed = Math.abs(motion.angle) * from.pose.length
    // Far enough to catch a swing that starts or stops between two frames.
    const reach = Math.max(14 / from.pose.length, 0.75 * Math.abs(motion.angle)) + 6 / from.pose.length
    const gap = Math.max(0.6 * this.look.widthTip, 0.2 * tipSpeed, 1.2) / from.pose.length
    const steps = Math.min(16, Math.ceil(reach / gap))
    const shift = 0.3 * Math.hypot(motion.hx, motion.hy) + 2
    const coarse: { pose: RodPose; score: number }[] = []
    for (let k = -steps; k <= steps; k++)
      for (const off of [-shift, 0, shift]) {
        const angle = expected.angle + k * gap
        const pose = {
          ...{ angle, length: expected.length },
          hx: expected.hx - Math.sin(angle) * off,
          hy: expected.hy + Math.cos(angle) * off,
        }
        const moved = motionBetween(from.pose, pose)
        const { score } = rodFit(frame.field, this.look, pose, moved, motion, { every: 2 })
        coarse.push({ pose, score: score - strain(moved, motion, from.pose) })
      }
    coarse.sort((a, b) => b.score - a.score)
    const starts: RodPose[] = []
    for (const { pose } of coarse) {
      if (starts.every((one) => farthest(one, pose) > 3)) starts.push(pose)
      if (starts.length === 3) break
    }
    return starts.map((start) => this.refined(frame, from, start))
  }

  private judged(frame: Frame, from: Candidate, pose: RodPose): Candidate {
    const motion = motionBetween(from.pose, pose)
    const fit = rodFit(frame.field, this.look, pose, motion, from.motion)
    const grip = 0.5 * gripFit(frame.colour, this.grip, pose) + 0.5 * gripFit(frame.colour, from.held, pose)
    const own = fit.score + gripWeight * grip - strain(motion, from.motion, from.pose)
    return { pose, motion, fit, grip, own, total: from.total + own, held: from.held, from }
  }

  /** Uphill in small steps along each of the four ways that a rod can move, until half a tenth of a pixel. */
  private refined(frame: Frame, from: Candidate, start: RodPose): Candidate {
    let best = this.judged(frame, from, start)
    const steps = [3 / start.length, 1.5, 3, 2]
    for (let round = 0; round < 12; round++)
      for (let way = 0; way < 4; way++) {
        const by = steps[way]!
        const on = this.judged(frame, from, nudged(best.pose, way, by))
        if (on.own > best.own) {
          best = on
          continue
        }
        const back = this.judged(frame, from, nudged(best.pose, way, -by))
        // The way that was right once is tried first the next time.
        steps[way] = back.own > best.own ? -by : 0.55 * by
        if (back.own > best.own) best = back
      }
    return best
  }
}

/** Frames on either side over which confidence is shared: a way that was wrong a moment ago is hardly right now. */
const sharedOver = 8
/** Confidence that is asked for before a frame is called as likely right as not, as a logit: drifting quietly is worse. */
const caution = 1.2

/**
 * How likely each frame of a run is right within 5 px, 0 to 1: a logistic model of its signs. Its weights were fitted to
 * 2276 frames of drawn performances, a fifth of them wrong (no clean backdrop, a second rod, doubled noise and blur, runs
 * backwards from a key where the hand is hidden); `npm run measure -- follow` shows how it does on others.
 */
function surenessOf(signs: readonly Signs[]): number[] {
  const clamp = (v: number, least: number) => Math.max(least, Math.min(1, v))
  const own = signs.map(({ slideSharp, grip, settledBy }) => {
    const logit =
      0.21 -
      0.41 * clamp(slideSharp / 30, -1) +
      4.3 * clamp(slideSharp / 100, -0.2) +
      2.08 * grip -
      3.85 * clamp(settledBy / 20, 0)
    return 1 / (1 + Math.exp(-logit))
  })
  // A key that does not lie on the rod itself makes every frame as wrong as it is.
  const keyed = clamp(signs[0]!.fit / 0.5, 0)
  return own.map((p, f) => {
    const near = own.slice(Math.max(0, f - sharedOver), f + sharedOver + 1)
    const shared = Math.min(p, near.reduce((a, b) => a + b) / near.length)
    return keyed / (1 + ((1 - shared) / Math.max(1e-6, shared)) * Math.exp(caution))
  })
}

interface Frame {
  field: Field
  colour: ReturnType<typeof colourPicture>
}

/** A rod a little turned about its middle, moved across, moved along, or longer. */
function nudged(pose: RodPose, way: number, by: number): RodPose {
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  switch (way) {
    case 0:
      return turnedAbout(pose, by)
    case 1:
      return { ...pose, hx: pose.hx - dy * by, hy: pose.hy + dx * by }
    case 2:
      return { ...pose, hx: pose.hx + dx * by, hy: pose.hy + dy * by }
    default:
      return { ...pose, length: Math.max(8, pose.length + by) }
  }
}

function goneOn(pose: RodPose, motion: Motion): RodPose {
  const [dx, dy] = [Math.cos(pose.angle), Math.sin(pose.angle)]
  const held = 0.4 * (motion.hx * dx + motion.hy * dy)
  return {
    hx: pose.hx + motion.hx - held * dx,
    hy: pose.hy + motion.hy - held * dy,
    angle: pose.angle + motion.angle,
    length: pose.length,
  }
}
const motionBetween = (a: RodPose, b: RodPose): Motion => ({
  hx: b.hx - a.hx,
  hy: b.hy - a.hy,
  angle: b.angle - a.angle,
  length: b.length - a.length,
})

/** What a change of motion costs: hands speed up and slow down, but not without end. */
function strain(now: Motion, before: Motion, { angle, length }: RodPose): number {
  const speed = Math.hypot(before.hx, before.hy)
  const heel = Math.hypot(now.hx - before.hx, now.hy - before.hy) / (4 + 0.5 * speed)
  const turn = ((now.angle - before.angle) * length) / (10 + 0.6 * Math.abs(before.angle) * length)
  const growth = now.length / (0.006 * length)
  // Along its own axis a rod says least of where it is, and a hand seldom lets it run there.
  const [dx, dy] = [Math.cos(angle), Math.sin(angle)]
  const slide = now.hx * dx + now.hy * dy - 0.6 * (before.hx * dx + before.hy * dy)
  const along = slide / (2.5 + 0.2 * Math.abs(now.hx * dy - now.hy * dx))
  return 0.02 * (heel * heel + turn * turn + Math.min(9, growth * growth) + along * along)
}

const speedOf = (pose: RodPose, motion: Motion): number =>
  Math.hypot(motion.hx, motion.hy) + Math.abs(motion.angle) * pose.length

/** The best candidates that are different poses. */
function apart(sorted: readonly Candidate[]): Candidate[] {
  const out: Candidate[] = []
  for (const one of sorted) {
    if (out.length === beamWidth) break
    if (out.every((other) => farthest(one.pose, other.pose) > 2.5)) out.push(one)
  }
  return out
}
