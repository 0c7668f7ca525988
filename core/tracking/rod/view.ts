import { inverseOf } from '../../geometry/projective.ts'
import { boundsOf, intersect, isEmpty, type Rect } from '../../geometry/rect.ts'
import { coverPolygon } from '../../matte/coverage.ts'
import type { Light } from '../align.ts'
import { type Backdrop, type CameraMotion, colourPicture } from '../background.ts'
import { bilinear, type FollowPicture } from '../frame.ts'

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
  const view = { data, x: 0, y: 0, width, height, frame: { width, height }, light }
  const back = motion && inverseOf(motion.map)
  if (back) addBehind(view, backdrop, back)
  hide(view, covered)
  return view
}

function addBehind(
  { data, width, height, light: { gain, offset } }: RodView,
  backdrop: Backdrop,
  [a, b, c, d, e, f]: readonly number[],
): void {
  const [w, h] = [backdrop.width, backdrop.height]
  for (let j = 0, to = 0; j < height; j++) {
    let px = a! * 0.5 + b! * (j + 0.5) + c! / 2 - 0.5
    let py = d! * 0.5 + e! * (j + 0.5) + f! / 2 - 0.5
    for (let i = 0; i < width; i++, px += a!, py += d!, to += viewNumbers) {
      if (!(px >= 0 && py >= 0 && px < w - 1 && py < h - 1)) continue
      const [ix, iy] = [px | 0, py | 0]
      const at = iy * w + ix
      const spread = backdrop.spread[at]!
      if (spread < 0) continue
      const [s, t] = [px - ix, py - iy]
      const from = backdrop.y
      const y = bilinear(from, at, w, s, t) * gain + offset
      data[to + 3] = y < 0 ? 0 : y > 255 ? 255 : y + 0.5
      data[to + 4] = bilinear(backdrop.u, at, w, s, t) + 0.5
      data[to + 5] = bilinear(backdrop.v, at, w, s, t) + 0.5
      const steep = misplaced * (Math.abs(from[at + 1]! - from[at]!) + Math.abs(from[at + w]! - from[at]!))
      const deviation = deviationParts * Math.sqrt(grain * grain + spread * spread + steep * steep)
      data[to + 6] = deviation > 255 ? 255 : deviation
      data[to + 7] = behindKnown
    }
  }
}

function hide({ data, width, height }: RodView, covered: readonly number[][]): void {
  if (covered.length === 0) return
  const region = { x: 0, y: 0, width, height }
  const cover = new Float32Array(width * height)
  for (const polygon of covered) {
    const half = polygon.map((v) => v / 2)
    if (isEmpty(intersect(boundsOf(half), region))) continue
    coverPolygon(half, region, cover)
    for (let i = 0; i < cover.length; i++) if (cover[i]! > 0.1) data[i * viewNumbers + 7] = hidden
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
