import { inverseOf } from '../../geometry/projective.ts'
import { intersect, type Rect } from '../../geometry/rect.ts'
import { type ByteView, deviationParts, hidden, viewNumbers } from '../../pixels/kernels/station.ts'
import type { Light } from '../align.ts'
import type { Backdrops } from '../backdrops.ts'
import { type Backdrop, type CameraMotion, colourPicture, forCovered } from '../background.ts'
import type { FollowPicture } from '../frame.ts'
import { isCut } from '../sceneCut.ts'
import { backdropInMemory, forgetView, viewInMemory } from './memory.ts'

/** Levels that grain and coding move a half-size pixel by. */
const grain = 2.2
/** Pixels by which the camera's motion may be wrong: where the backdrop is steep, that shows. */
const misplaced = 0.25

/** A frame beside what stands behind everything that moves on it: half size, 8 bits. */
export interface RodView extends ByteView {
  /** Size of the whole frame. */
  frame: { width: number; height: number }
  /** How the light has changed against the backdrop. */
  light: Light
  /** How much wider than usual the rod is on it. */
  wide: Wider
}

/** By how much the ends of a rod are wider than usual: 1 where they are not. */
export interface Wider {
  heel: number
  tip: number
}
export const asUsual: Wider = { heel: 1, tip: 1 }

/**
 * Gives the view of a frame; null where the picture cuts to it from the frame `before`. `covered`: polygons, in plate
 * pixels, of what lies over the rod. Frames are best asked for in a row, and may be asked for before they are needed: they
 * come in the order in which they were asked for.
 */
export type See = (frame: number, before: number | null, covered: readonly number[][]) => Promise<RodView | null>

/** Sees frames by their pictures and what stands behind. */
export function seeing(picture: (frame: number) => Promise<FollowPicture>, backdrops: Pick<Backdrops, 'at'>): See {
  // One after the other: a backdrop is made once, and finds frames that follow each other.
  let turn: Promise<unknown> = Promise.resolve()
  return (frame, before, covered) => {
    const seen = turn.then(async () => {
      const now = await picture(frame)
      if (before !== null && isCut(await picture(before), now)) return null
      const backdrop = await backdrops.at(frame)
      return viewOf(now, backdrop, backdrop.motion(now), covered)
    })
    turn = seen.catch(() => {})
    return seen
  }
}

const evenLight: Light = { gain: 1, offset: 0 }

/**
 * The view of a whole frame. `motion`: how the camera has moved against the backdrop, null where that is not known;
 * `covered`: polygons, in plate pixels, of what lies over the rod.
 */
export function viewOf(
  picture: FollowPicture,
  backdrop: Backdrop,
  motion: CameraMotion | null,
  covered: readonly number[][],
): RodView {
  const { width, height, y: brightness, row, u, v } = colourPicture(picture)
  const words = new Uint32Array((width * height * viewNumbers) / 4)
  for (let j = 0, at = 0; j < height; j++)
    for (let chroma = j * row, end = at + width; at < end; at++, chroma++)
      words[2 * at] = brightness[at]! | (u[chroma]! << 8) | (v[chroma]! << 16)
  const light = motion?.light ?? evenLight
  const data = new Uint8Array(words.buffer)
  const view = { data, x: 0, y: 0, width, height, frame: { width, height }, light, wide: asUsual }
  if (motion) addBehind(view, backdrop, motion)
  forCovered(covered, view, (pixel) => (data[pixel * viewNumbers + 7] = hidden))
  forgetView(view)
  return view
}

function addBehind(view: RodView, backdrop: Backdrop, motion: CameraMotion): void {
  const back = inverseOf(motion.map)
  if (!back) return
  const behind = backdropInMemory(backdrop, deviationsOf(backdrop))
  const { kernels, view: there } = viewInMemory(view)
  const [dx, b, c, dy, e, f] = back
  for (let j = 0; j < view.height; j++) {
    // Coordinates of half-size pixels: the shift is halved, the turn stays.
    const x = dx * 0.5 + b * (j + 0.5) + c / 2 - 0.5
    const y = dy * 0.5 + e * (j + 0.5) + f / 2 - 0.5
    kernels.layBehind(behind, { x, y, dx, dy }, motion.light, there.data, j * view.width * viewNumbers, view.width)
  }
  if (there !== view) view.data.set(there.data)
}

/** What to expect of each pixel of a backdrop, in {@link deviationParts}. */
function deviationsOf({ width, y, spread }: Backdrop): (at: number) => number {
  // Of the last row and column nothing is asked.
  return (at) => {
    const steep = misplaced * (Math.abs((y[at + 1] ?? 0) - y[at]!) + Math.abs((y[at + width] ?? 0) - y[at]!))
    return deviationParts * Math.sqrt(grain * grain + spread[at]! ** 2 + steep * steep)
  }
}

/** The part of a view that lies in a box, with pixels of its own. */
export function cropped(view: RodView, box: Rect): RodView {
  const whole = { x: view.x, y: view.y, width: view.width, height: view.height }
  const x = Math.floor(box.x)
  const y = Math.floor(box.y)
  const wanted = { x, y, width: Math.ceil(box.x + box.width) - x, height: Math.ceil(box.y + box.height) - y }
  const part = intersect(wanted, whole)
  const [width, height] = [Math.max(0, part.width), Math.max(0, part.height)]
  const data = new Uint8Array(width * height * viewNumbers)
  for (let j = 0; j < height; j++) {
    const at = ((part.y - view.y + j) * view.width + part.x - view.x) * viewNumbers
    data.set(view.data.subarray(at, at + width * viewNumbers), j * width * viewNumbers)
  }
  return { ...view, data, x: part.x, y: part.y, width, height }
}
