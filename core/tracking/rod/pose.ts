import type { Rect } from '../../geometry/rect.ts'

/*
 * Where a rod is, and how it moves. All lengths in this folder are half-size pixels of the frame (see ColourPicture)
 * unless they say otherwise.
 */

/** A rod's place: its heel, the way it points (radians, counted on beyond a turn) and its length. */
export interface RodPose {
  hx: number
  hy: number
  angle: number
  length: number
}

/** How a rod moves in a frame: its heel's shift, its turn and its growth. */
export type RodMotion = RodPose

export const atRest: RodMotion = { hx: 0, hy: 0, angle: 0, length: 0 }

/** Pose of a rod's points in plate pixels ([heel x, heel y, tip x, tip y]), and back. */
export function poseOf(points: readonly number[]): RodPose {
  const [hx, hy, tx, ty] = points.map((v) => v / 2) as [number, number, number, number]
  return { hx, hy, angle: Math.atan2(ty - hy, tx - hx), length: Math.max(4, Math.hypot(tx - hx, ty - hy)) }
}
export const pointsOf = (pose: RodPose): number[] => {
  const [tx, ty] = tipOf(pose)
  return [2 * pose.hx, 2 * pose.hy, 2 * tx, 2 * ty]
}

export const tipOf = ({ hx, hy, angle, length }: RodPose): [number, number] => [
  hx + length * Math.cos(angle),
  hy + length * Math.sin(angle),
]

/** Farthest that an end of two poses lies apart. */
export function farthest(a: RodPose, b: RodPose): number {
  const [[ax, ay], [bx, by]] = [tipOf(a), tipOf(b)]
  return Math.max(Math.hypot(a.hx - b.hx, a.hy - b.hy), Math.hypot(ax - bx, ay - by))
}

/** The motion that leads from one pose to another, turning the short way. */
export const motionBetween = (a: RodPose, b: RodPose): RodMotion => ({
  hx: b.hx - a.hx,
  hy: b.hy - a.hy,
  angle: shortWay(b.angle - a.angle),
  length: b.length - a.length,
})

/** An angle within half a turn. */
export const shortWay = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI))

/** Motion within a frame: half of what lies between the poses before and after it. */
export function motionAt(poses: readonly RodPose[], f: number): RodMotion {
  const [before, after] = [Math.max(0, f - 1), Math.min(poses.length - 1, f + 1)]
  const whole = motionBetween(poses[before]!, poses[after]!)
  const by = 1 / Math.max(1, after - before)
  return { hx: whole.hx * by, hy: whole.hy * by, angle: whole.angle * by, length: whole.length * by }
}

/** Pixels that the faster end goes in a frame. */
export const speedOf = ({ length }: RodPose, motion: RodMotion): number =>
  Math.hypot(motion.hx, motion.hy) + Math.abs(motion.angle) * length

export const slid = (pose: RodPose, by: number): RodPose => ({
  ...pose,
  hx: pose.hx + by * Math.cos(pose.angle),
  hy: pose.hy + by * Math.sin(pose.angle),
})
export const movedAcross = (pose: RodPose, by: number): RodPose => ({
  ...pose,
  hx: pose.hx - by * Math.sin(pose.angle),
  hy: pose.hy + by * Math.cos(pose.angle),
})
/** Turned about its middle: where the heel goes then does not depend on how far it lies off. */
export function turnedAbout(pose: RodPose, by: number): RodPose {
  const angle = pose.angle + by
  const half = pose.length / 2
  return {
    ...pose,
    angle,
    hx: pose.hx + half * (Math.cos(pose.angle) - Math.cos(angle)),
    hy: pose.hy + half * (Math.sin(pose.angle) - Math.sin(angle)),
  }
}
/** Turned about its heel. */
export const turnedAtHeel = (pose: RodPose, by: number): RodPose => ({ ...pose, angle: pose.angle + by })

/** The pixels around a pose, with room on every side. */
export function boxAround(pose: RodPose, room: number): Rect {
  const [tx, ty] = tipOf(pose)
  const [x, y] = [Math.min(pose.hx, tx) - room, Math.min(pose.hy, ty) - room]
  return { x, y, width: Math.max(pose.hx, tx) + room - x, height: Math.max(pose.hy, ty) + room - y }
}

export const clamp01 = (v: number): number => Math.max(0, Math.min(1, v))

/** The middle of some numbers, 0 of none. */
export const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1] ?? 0
