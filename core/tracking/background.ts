import { composed, inverseOf, mapped, type Projective } from '../geometry/projective.ts'
import { boundsOf, intersect, isEmpty, type Rect } from '../geometry/rect.ts'
import { coverPolygon } from '../matte/coverage.ts'
import { startKernels } from '../pixels/kernels/engine.ts'
import type { KernelEngine, Kernels } from '../pixels/kernels/interface.ts'
import { plainKernels } from '../pixels/kernels/plain.ts'
import { type Light, Patch } from './align.ts'
import { bilinear, type FollowPicture } from './frame.ts'

/*
 * The picture without what moves: the median of frames over time, after the camera's own motion is taken out. What
 * differs from it on a frame is evidence of a moving prop.
 */

/** Brightness and colour differences of a frame on one grid of 2 plate pixels a pixel. */
export interface ColourPicture {
  width: number
  height: number
  y: Uint8Array
  /** Rows of the colour planes may be one longer than those of the brightness. */
  row: number
  u: Uint8Array
  v: Uint8Array
}

const coloured = new WeakMap<FollowPicture, ColourPicture>()

/** A picture at the size of its colour planes: half of the plate's. */
export function colourPicture(picture: FollowPicture): ColourPicture {
  let out = coloured.get(picture)
  if (out) return out
  const [width, height] = [picture.width >> 1, picture.height >> 1]
  const y = new Uint8Array(width * height)
  const { luma, width: row, chromaWidth, u, v } = picture
  for (let j = 0; j < height; j++) {
    let from = 2 * j * row
    for (let i = 0, at = j * width; i < width; i++, at++, from += 2)
      y[at] = (luma[from]! + luma[from + 1]! + luma[from + row]! + luma[from + row + 1]! + 2) >> 2
  }
  out = { width, height, y, row: chromaWidth, u, v }
  coloured.set(picture, out)
  return out
}

/** How the camera has moved on a frame against the backdrop: map of plate pixels, and the change of light. */
export interface CameraMotion {
  map: Projective
  light: Light
}

/** Frames that the median is taken of, and how many of them must show a place for it to be known. */
export const backdropFrames = 24
const fewest = 5

const still: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1]

/** A whole frame but for its rim, to be found in others. */
function wholeOf(picture: FollowPicture): Patch {
  const { width, height } = picture
  const [mx, my] = [0.02 * width, 0.02 * height]
  return new Patch(picture, [mx, my, width - mx, my, width - mx, height - my, mx, height - my], 0, [])
}

export class Backdrop {
  readonly width: number
  readonly height: number
  readonly y: Float32Array
  readonly u: Float32Array
  readonly v: Float32Array
  /** Standard deviation of brightness over time, in levels; negative where nothing is known of the place. */
  readonly spread: Float32Array
  private readonly patch: Patch
  private readonly motions = new WeakMap<FollowPicture, CameraMotion | null>()
  /** The frame whose motion was found last. */
  private last: { picture: FollowPicture; motion: CameraMotion; patch: Patch | null } | null = null

  /** `base`: the frame whose coordinates the backdrop has; `frames`: up to {@link backdropFrames} others over time. */
  constructor(base: FollowPicture, frames: readonly FollowPicture[]) {
    const { width, height } = base
    this.patch = wholeOf(base)
    ;[this.width, this.height] = [width >> 1, height >> 1]
    const size = this.width * this.height
    this.y = new Float32Array(size)
    this.u = new Float32Array(size)
    this.v = new Float32Array(size)
    this.spread = new Float32Array(size)
    // From the base outwards on either side: each frame starts where its neighbour was found.
    const at = Math.max(0, frames.indexOf(base))
    for (const way of [frames.slice(at), frames.slice(0, at).reverse()]) {
      this.last = null
      for (const one of way) this.motion(one)
    }
    this.last = null
    this.settle(frames)
  }

  /**
   * How the camera has moved on a frame; null where it shows something else. Frames are best asked for in a row: where
   * one differs too much from the backdrop, the way from the one asked for before says where it lies.
   */
  motion(picture: FollowPicture): CameraMotion | null {
    const known = this.motions.get(picture)
    if (known) this.last = { picture, motion: known, patch: this.last?.picture === picture ? this.last.patch : null }
    if (known !== undefined) return known
    const motion = this.found(picture)
    this.motions.set(picture, motion)
    if (motion) this.last = { picture, motion, patch: null }
    return motion
  }

  private found(picture: FollowPicture): CameraMotion | null {
    const start = this.last?.motion.map ?? still
    const fit = this.patch.find(picture, start, 'rigid', 48)
    // A bright prop in a dim picture outweighs the rest in a correlation; where most places agree it is the same scene.
    if (fit && (fit.correlation > 0.4 || fit.agreeing > 0.6)) return { map: fit.map, light: fit.light }
    if (!this.last) return null
    const { last } = this
    last.patch ??= wholeOf(last.picture)
    const on = last.patch.find(picture, still, 'rigid', 32)
    if (!on || (on.correlation < 0.7 && on.agreeing < 0.6)) return null
    const { gain, offset } = last.motion.light
    const light = { gain: gain * on.light.gain, offset: offset * on.light.gain + on.light.offset }
    return { map: composed(on.map, last.motion.map), light }
  }

  /** How far the frame lies off the backdrop where that is known: median of the differences of brightness, in levels. */
  residual(picture: FollowPicture): number {
    const motion = this.motion(picture)
    const back = motion && inverseOf(motion.map)
    if (!back) return Infinity
    const colour = colourPicture(picture)
    const counts = new Uint32Array(256)
    let total = 0
    for (let j = 3; j < colour.height; j += 7)
      for (let i = 3; i < colour.width; i += 7) {
        const [x, y] = mapped(back, 2 * i + 1, 2 * j + 1)
        const [px, py] = [(x / 2) | 0, (y / 2) | 0]
        if (!(x >= 0 && y >= 0 && px < this.width && py < this.height)) continue
        const at = py * this.width + px
        if (this.spread[at]! < 0) continue
        const behind = this.y[at]! * motion.light.gain + motion.light.offset
        counts[Math.min(255, Math.abs(colour.y[j * colour.width + i]! - behind)) | 0]!++
        total++
      }
    if (total < 200) return Infinity
    let [sum, level] = [0, 0]
    while (sum + counts[level]! < total / 2) sum += counts[level++]!
    return level
  }

  private settle(frames: readonly FollowPicture[]): void {
    const shown = frames.flatMap((picture) => {
      const motion = this.motion(picture)
      return motion ? [{ picture: colourPicture(picture), motion }] : []
    })
    const { width, height } = this
    const n = shown.length
    const known = new Uint8Array(width)
    const ways = shown.map(({ picture, motion }) => ({ picture, light: motion.light, map: motion.map, known }))
    const { kernels, planes, row } = sorterFor(n, width)
    const outs = [this.y, this.u, this.v]
    for (let j = 0; j < height; j++) {
      known.fill(0)
      for (const plane of planes) plane.fill(unknown)
      for (const way of ways) gather(way, j, width, row, planes)
      for (const plane of planes) kernels.sortColumns(plane, n, row)
      for (let i = 0; i < width; i++) {
        const count = known[i]!
        const to = j * width + i
        if (count < Math.min(fewest, n)) {
          this.spread[to] = -1
          continue
        }
        const [low, high] = [((count - 1) >> 1) * row + i, (count >> 1) * row + i]
        for (let plane = 0; plane < 3; plane++)
          outs[plane]![to] = (0.5 / parts) * (planes[plane]![low]! + planes[plane]![high]!)
        // Between the quartles lie 1.35 standard deviations.
        const [first, third] = [planes[0]![(count >> 2) * row + i]!, planes[0]![((3 * count) >> 2) * row + i]!]
        this.spread[to] = (third - first) / (1.35 * parts)
      }
    }
  }
}

/** Brings row `j` of what a frame shows (half size) to where it lies in the backdrop: a value more for each column it knows. */
function gather(
  { picture, light, map, known }: { picture: ColourPicture; light: Light; map: Projective; known: Uint8Array },
  j: number,
  width: number,
  row: number,
  [ys, us, vs]: Planes,
): void {
  const [a, b, c, d, e, f] = map
  const { gain, offset } = light
  const { y, u, v, row: chromaRow, height } = picture
  // Coordinates of half-size pixels: the shift is halved, the turn stays.
  let px = a * 0.5 + b * (j + 0.5) + c / 2 - 0.5
  let py = d * 0.5 + e * (j + 0.5) + f / 2 - 0.5
  for (let i = 0; i < width; i++, px += a, py += d) {
    if (!(px >= 0 && py >= 0 && px < width - 1 && py < height - 1)) continue
    const [ix, iy] = [px | 0, py | 0]
    const [s, t] = [px - ix, py - iy]
    const to = known[i]!++ * row + i
    const bright = (bilinear(y, iy * width + ix, width, s, t) - offset) / gain
    ys[to] = parts * (bright < 0 ? 0 : bright > 255 ? 255 : bright) + 0.5
    const chroma = iy * chromaRow + ix
    us[to] = parts * bilinear(u, chroma, chromaRow, s, t) + 0.5
    vs[to] = parts * bilinear(v, chroma, chromaRow, s, t) + 0.5
  }
}

/** Brightness and the two colour differences of one row of the backdrop on every frame, a row a frame, in {@link parts} of a level. */
type Planes = [Uint16Array, Uint16Array, Uint16Array]
export const parts = 128
export const unknown = 65535

let engine: KernelEngine | null | undefined
/** Rows for so many frames, and what puts their columns in order: the compiled kernels where they fit in. */
export function sorterFor(frames: number, width: number): { kernels: Kernels; planes: Planes; row: number } {
  const row = 8 * Math.ceil(width / 8)
  const size = 2 * frames * row
  engine = engine === undefined ? startKernels(sorterBytes) : engine
  const fits = engine !== null && engine.start + 3 * size <= engine.buffer.byteLength
  const { buffer, start } = fits ? engine! : { buffer: new ArrayBuffer(3 * size), start: 0 }
  const plane = (k: number) => new Uint16Array(buffer, start + k * size, size / 2)
  return { kernels: fits ? engine!.kernels : plainKernels, planes: [plane(0), plane(1), plane(2)], row }
}
/** Enough for 32 frames of a picture 8,192 wide. */
const sorterBytes = 2 ** 21

/**
 * Goes through the pixels of a region of a frame (half size) that the backdrop knows: `to` the number of the pixel in the
 * region, `at` that of the backdrop's pixel, (s, t) the share of the way to its neighbours. `motion`: the camera's.
 */
function forKnown(
  { width: w, height: h, spread }: Backdrop,
  motion: CameraMotion,
  region: Rect,
  visit: (to: number, at: number, s: number, t: number) => void,
): void {
  const back = inverseOf(motion.map)
  if (!back) return
  const [a, b, c, d, e, f] = back
  for (let j = 0, to = 0; j < region.height; j++) {
    let px = a * (region.x + 0.5) + b * (region.y + j + 0.5) + c / 2 - 0.5
    let py = d * (region.x + 0.5) + e * (region.y + j + 0.5) + f / 2 - 0.5
    for (let i = 0; i < region.width; i++, px += a, py += d, to++) {
      if (!(px >= 0 && py >= 0 && px < w - 1 && py < h - 1)) continue
      const ix = px | 0
      const iy = py | 0
      const at = iy * w + ix
      if (spread[at]! >= 0) visit(to, at, px - ix, py - iy)
    }
  }
}

/** Goes through the pixels of a region (half size) that polygons in plate pixels cover. */
export function forCovered(covered: readonly number[][], region: Rect, visit: (pixel: number) => void): void {
  if (covered.length === 0) return
  const cover = new Float32Array(region.width * region.height)
  for (const polygon of covered) {
    const half = polygon.map((v) => v / 2)
    if (isEmpty(intersect(boundsOf(half), region))) continue
    coverPolygon(half, region, cover)
    for (let i = 0; i < cover.length; i++) if (cover[i]! > 0.1) visit(i)
  }
}

/** Values of a field per pixel: what differs (y, u, v), what lies behind (y, u, v), its variance, and whether it is known. */
export const fieldNumbers = 8

/** A piece of a frame beside its backdrop, in half-size pixels of the frame. */
export interface Field {
  data: Float32Array
  x: number
  y: number
  width: number
  height: number
}

/** Levels that grain and coding move a half-size pixel by. */
const grain = 2.5

/**
 * What differs from the backdrop on a frame, over a box of half-size pixels. Where the camera has gone beyond what the
 * backdrop knows, and under `covered` (polygons in plate pixels), nothing is known.
 */
export function fieldOf(
  backdrop: Backdrop,
  picture: FollowPicture,
  motion: CameraMotion,
  box: Rect,
  covered: readonly number[][] = [],
): Field {
  const colour = colourPicture(picture)
  const { width: w, height: h } = colour
  const x = Math.max(0, Math.floor(box.x))
  const y = Math.max(0, Math.floor(box.y))
  const width = Math.max(0, Math.min(w, Math.ceil(box.x + box.width)) - x)
  const height = Math.max(0, Math.min(h, Math.ceil(box.y + box.height)) - y)
  const data = new Float32Array(width * height * fieldNumbers)
  const region = { x, y, width, height }
  const { gain, offset } = motion.light
  forKnown(backdrop, motion, region, (pixel, at, s, t) => {
    const [column, row] = [x + (pixel % width), y + Math.floor(pixel / width)]
    const chroma = row * colour.row + column
    const to = pixel * fieldNumbers
    const behind = bilinear(backdrop.y, at, backdrop.width, s, t) * gain + offset
    const u = bilinear(backdrop.u, at, backdrop.width, s, t)
    const v = bilinear(backdrop.v, at, backdrop.width, s, t)
    data[to] = colour.y[row * w + column]! - behind
    data[to + 1] = colour.u[chroma]! - u
    data[to + 2] = colour.v[chroma]! - v
    data[to + 3] = behind
    data[to + 4] = u
    data[to + 5] = v
    data[to + 6] = grain * grain + backdrop.spread[at]! ** 2
    data[to + 7] = 1
  })
  forCovered(covered, region, (pixel) => (data[pixel * fieldNumbers + 7] = 0))
  return { data, ...region }
}
