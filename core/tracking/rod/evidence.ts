import { viewInMemory } from './memory.ts'
import type { RodMotion, RodPose } from './pose.ts'
import type { RodView, Wider } from './view.ts'

/*
 * How well a pose of a rod explains a frame: at places along it, how much better a mix of what stands behind and the
 * rod, by the share of the open shutter that the rod covers each pixel, explains what is seen than no rod does.
 */

/** Places along a rod of its usual length. */
export const stations = 28
/** Parts of a rod that have a colour each. */
export const colourParts = 12
/** Softness of lens and grid: an edge is never sharper than this. */
export const softness = 1.5
/** What a rod looks like, from all frames on which a hand has set it. */
export interface RodLook {
  widthHeel: number
  widthTip: number
  /** As set by hand, at its longest. */
  length: number
  /** Colour (y, u, v) of each part from the heel on, in the light of the backdrop. */
  colour: Float32Array
  /** Levels by which each part differs from its own colour: shade, grain of the wood, highlights. */
  rough: Float32Array
  /** How much each part can be seen, 0 to 1: under the hand that holds it there is nothing to see. */
  shows: Float32Array
  /** By how much the end that is seen falls short of the one that hands set. */
  tipShort: number
  /** Share of a frame that the shutter is open. */
  shutter: number
  /** How much of what lies under the key that shows it best is of one look and no backdrop, 0 to 1: little where no rod lies there. */
  told: number
}

/**
 * How well a pose explains a view, 1 where every station is all there, less than 0 where something else is. `motion`:
 * how the rod moves in that frame; `every`: reads every nth station only, and from 3 on goes by the backdrop alone where
 * that is known: to look around quickly.
 */
export function rodFit(view: RodView, look: RodLook, pose: RodPose, motion: RodMotion, every = 1): number {
  const seen = Math.max(4, pose.length - look.tipShort)
  const count = Math.max(6, Math.min(3 * stations, Math.round((stations * seen) / look.length)))
  const quick = every > 2
  let [score, outside] = [0, 0]
  for (let i = every >> 1; i < count; i += every) {
    const along = ((i + 0.5) * seen) / count
    const shows = look.shows[partOf(along, seen)]!
    const value = shows < 0.05 ? NaN : placeSays(view, look, pose, motion, along, seen, quick)
    if (value === value) score += every * shows * value
    else if (!within(view, pose, along)) outside += every
  }
  // At its tip a step must show.
  const stride = quick ? 3 : every
  let step = 0
  for (let i = 0; i < tipPlaces; i += stride)
    for (const side of [-1, 1]) {
      const value = placeSays(view, look, pose, motion, seen + side * tipGap * (i + 0.5), seen, quick)
      if (value > 0) step -= side * value
    }
  const away = outside / count
  return score / stations + (tipCounts * stride * step) / tipPlaces - (away > 0.5 ? 0.4 * (away - 0.5) : 0)
}
/** Places on either side of the tip that are read, how far apart, and what a whole step counts against a whole rod. */
const tipPlaces = 6
const tipGap = 1.4
const tipCounts = 0.12

/** How wide the rod is at a share of its length on a frame. */
export const widthAt = ({ widthHeel, widthTip }: RodLook, { heel, tip }: Wider, u: number): number =>
  (1 - u) * widthHeel * heel + u * widthTip * tip

const partOf = (along: number, length: number): number =>
  along <= 0 ? 0 : along >= length ? colourParts - 1 : ((colourParts * along) / length) | 0

const within = ({ frame }: RodView, { hx, hy, angle }: RodPose, along: number): boolean => {
  const [x, y] = [hx + Math.cos(angle) * along, hy + Math.sin(angle) * along]
  return x >= 0 && y >= 0 && x < frame.width && y < frame.height
}

/** What places along the axis say, from `from` pixels off the heel on, `gap` apart; NaN where nothing can be told. */
export function placesSay(
  view: RodView,
  look: RodLook,
  pose: RodPose,
  motion: RodMotion,
  from: number,
  gap: number,
  count: number,
): Float32Array {
  return Float32Array.from({ length: count }, (_, i) =>
    placeSays(view, look, pose, motion, from + (i + 0.5) * gap, pose.length, false),
  )
}

/** What the place so far along the axis says; `length`: where the rod's colours end. */
function placeSays(
  view: RodView,
  look: RodLook,
  pose: RodPose,
  motion: RodMotion,
  along: number,
  length: number,
  quick: boolean,
): number {
  const dx = Math.cos(pose.angle)
  const dy = Math.sin(pose.angle)
  const cx = pose.hx + dx * along
  const cy = pose.hy + dy * along
  if (!(cx >= 0 && cy >= 0 && cx < view.frame.width && cy < view.frame.height)) return NaN
  const u = along <= 0 ? 0 : along >= length ? 1 : along / length
  const part = partOf(along, length)
  const width = widthAt(look, view.wide, u)
  const way = look.shutter * (dx * motion.hy - dy * motion.hx + along * motion.angle)
  const sweep = Math.sqrt(way * way + softness * softness)
  const y = look.colour[3 * part]! * view.light.gain + view.light.offset
  const cu = look.colour[3 * part + 1]!
  const cv = look.colour[3 * part + 2]!
  const rough = look.rough[part]!
  const there = viewInMemory(view)
  const station = { cx, cy, nx: -dy, ny: dx, wide: width, sweep, y, u: cu, v: cv, rough, quick }
  return there.kernels.stationSays(there.view, station)
}
