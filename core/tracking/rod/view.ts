import { intersect, type Rect } from '../../geometry/rect.ts'
import type { Light } from '../align.ts'
import type { Backdrops } from '../backdrops.ts'
import { type Backdrop, type CameraMotion, colourPicture, forCovered, forKnown } from '../background.ts'
import { bilinear, type FollowPicture } from '../frame.ts'
import { isCut } from '../sceneCut.ts'

/** Numbers of a pixel: the picture (y, u, v), what stands behind (y, u, v), the deviation to expect, what is known. */
export const viewNumbers = 8
/** What is known of a pixel: the picture alone, what stands behind it too; or it is covered. */
export const pictureOnly = 0
export const behindKnown = 1
export const hidden = 2

/** Deviations are kept in so many parts of a level. */
export const deviationParts = 6
/** Levels that grain and coding move a half-size pixel by. */
const grain = 2.2
/** Pixels by which the camera's motion may be wrong: where the backdrop is steep, that shows. */
const misplaced = 0.25

/** A frame beside what stands behind everything that moves on it: half size, 8 bits. */
export interface RodView {
  /** {@link viewNumbers} a pixel, row by row. */
  data: Uint8Array
  x: number
  y: number
  width: number
  height: number
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
  const colour = colourPicture(picture)
  const { width, height } = colour
  const data = new Uint8Array(width * height * viewNumbers)
  for (let y = 0, at = 0; y < height; y++)
    for (let x = 0, chroma = y * colour.row; x < width; x++, at += viewNumbers, chroma++) {
      data[at] = colour.y[y * width + x]!
      data[at + 1] = colour.u[chroma]!
      data[at + 2] = colour.v[chroma]!
    }
  const light = motion?.light ?? evenLight
  const view = { data, x: 0, y: 0, width, height, frame: { width, height }, light, wide: asUsual }
  if (motion) addBehind(view, backdrop, motion)
  forCovered(covered, view, (pixel) => (data[pixel * viewNumbers + 7] = hidden))
  return view
}

function addBehind(view: RodView, backdrop: Backdrop, motion: CameraMotion): void {
  const { data } = view
  const { width: w, y: from, u, v, spread } = backdrop
  const { gain, offset } = motion.light
  forKnown(backdrop, motion, view, (pixel, at, s, t) => {
    const to = pixel * viewNumbers
    const y = bilinear(from, at, w, s, t) * gain + offset
    data[to + 3] = y < 0 ? 0 : y > 255 ? 255 : y + 0.5
    data[to + 4] = bilinear(u, at, w, s, t) + 0.5
    data[to + 5] = bilinear(v, at, w, s, t) + 0.5
    const steep = misplaced * (Math.abs(from[at + 1]! - from[at]!) + Math.abs(from[at + w]! - from[at]!))
    const deviation = deviationParts * Math.sqrt(grain * grain + spread[at]! ** 2 + steep * steep)
    data[to + 6] = deviation > 255 ? 255 : deviation
    data[to + 7] = behindKnown
  })
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
