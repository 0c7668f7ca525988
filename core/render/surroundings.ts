import { boundsOf, inflate, intersect, isEmpty, type Rect } from '../geometry/rect.ts'
import type { Rgba, RgbaArea } from '../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { type Rgb, span } from '../pixels/kernels/interface.ts'
import { fillHoles } from '../pixels/filters/fillHoles.ts'
import { resampleAffine } from '../pixels/filters/warp.ts'
import { motionOf } from '../records/plate.ts'
import { clipPlace } from '../records/timing.ts'
import { type OtherPictures, workingPart } from './picture.ts'
import { boundsOfCover, coverOf } from './region.ts'
import type { Scene } from './scene.ts'

/*
 * A picture without somebody: what effects on the surroundings work on, so that nobody slides past or smears a second time.
 * The hole is filled from the clean plate where the shot has one that knows the frame, brought to the frame's light along
 * the edge of the hole, else from that edge inward.
 */

const slots = { matte: new Slot(), across: new Slot(), patch: new Slot(), shown: new Slot(), behind: new Slot() }

/** Pixels at full size beyond a matte whose colours still have something of whom it covers. */
const fringe = 2
/** From where on a pixel belongs to the hole. */
const seen = 0.02
/** Working values that a frame may always differ from the plate by: grain. */
const leastFar = 0.02
const nothingFar: Rgb = [0, 0, 0]
/** Full-size pixels around a hole from which it is filled. */
const around = 48

/** Pixels at `scale` that have to be there for {@link takeOut}; empty where nobody is to be taken out. */
export function holeBounds(scene: Scene, of: readonly string[], frame: number, scale: number): Rect {
  const box = boundsOfCover(scene, of, frame, scale)
  return isEmpty(box) ? box : inflate(box, Math.ceil((around + fringe) * scale) + 2)
}

/** The other picture that a frame without somebody is made from, as its place in the clean plate says; null for none. */
export function plateAt({ plate, shot }: Scene, frame: number) {
  const map = plate && motionOf(plate, clipPlace(shot, Math.round(frame)).frame)
  return map ? { media: plate!.media, map } : null
}
/**
 * Takes members and parts out of an opaque picture of a frame, in place: premultiplied working values over `region`. What
 * is clear stays as it is, and so does a picture that shows nothing but them.
 */
export function takeOut(
  scene: Scene,
  of: readonly string[],
  { time, scale }: { time: number; scale: number },
  { data, region }: RgbaArea,
  scratch: Scratch,
  others: OtherPictures,
): void {
  const rect = intersect(holeBounds(scene, of, time, scale), region)
  if (isEmpty(rect)) return
  const { width, height } = rect
  const matte = coverOf(scene, of, { time, scale, rect }, scratch, slots.matte)
  widen(matte, width, height, Math.max(1, Math.round(fringe * scale)), scratch)
  const holes = scratch.floats(slots.patch, 4 * width * height)
  const patch: Rgba = { data: holes, width, height }
  const plate = warpedPlate(scene, time, scale, rect, scratch, others)
  const behind = plate && knowsAll(plate, matte) ? plate : null
  const { kernels } = scratch
  const far = behind ? matchLight(behind, { data, region }, rect, matte, scratch) : nothingFar
  let said = 0
  for (let y = 0; y < height; y++) {
    const from = 4 * ((rect.y + y - region.y) * region.width + rect.x - region.x)
    const there = behind && span(behind, 4 * y * width)
    const out = span(holes, 4 * y * width)
    said |= kernels.knownPixels(span(data, from), there, span(matte, y * width), seen, far, out, width)
  }
  // Somebody is there, something else too, and nothing of it is clear.
  if (said !== 3) return
  fillHoles(patch, scratch)
  for (let y = 0, i = 0; y < height; y++) {
    let to = 4 * ((rect.y + y - region.y) * region.width + rect.x - region.x)
    for (let x = 0; x < width; x++, i++, to += 4) {
      if (matte[i]! <= seen) continue
      for (let c = 0; c < 3; c++) data[to + c] = Math.max(0, holes[4 * i + c]! + (behind ? behind[4 * i + c]! : 0))
    }
  }
}

/** What the cast hides on a frame, with its fringe: 1 for every pixel at full size; null where nobody is there. */
export function hiddenOn(
  scene: Scene,
  frame: number,
  { width, height }: { width: number; height: number },
  scratch: Scratch,
): Uint8Array | null {
  const rect = { x: 0, y: 0, width, height }
  if (isEmpty(intersect(boundsOfCover(scene, scene.members, frame, 1), rect))) return null
  const matte = coverOf(scene, scene.members, { time: frame, scale: 1, rect }, scratch, slots.matte)
  widen(matte, width, height, 2 * fringe, scratch)
  return Uint8Array.from(matte, (cover) => Number(cover > seen))
}

/** The largest value within so many pixels, in place. */
function widen(data: Float32Array, width: number, height: number, by: number, scratch: Scratch): void {
  const { kernels } = scratch
  const across = scratch.floats(slots.across, width * height)
  across.set(data)
  for (let k = 1; k <= Math.min(by, width - 1); k++)
    for (let y = 0; y < height; y++) {
      const row = y * width
      kernels.maxNumbers(span(data, row), span(across, row + k), width - k)
      kernels.maxNumbers(span(data, row + k), span(across, row), width - k)
    }
  data.set(across)
  for (let k = 1; k <= Math.min(by, height - 1); k++) {
    const count = width * (height - k)
    kernels.maxNumbers(span(across), span(data, k * width), count)
    kernels.maxNumbers(span(across, k * width), span(data), count)
  }
}

/** The clean plate as a frame shows it, over a rectangle; null where it does not know the frame or is missing. */
function warpedPlate(
  scene: Scene,
  frame: number,
  scale: number,
  rect: Rect,
  scratch: Scratch,
  others: OtherPictures,
): Float32Array | null {
  const at = plateAt(scene, frame)
  const need = at && { media: at.media, frame: 0, scaled: true }
  const still = need && others(need)
  if (!still) return null
  const [a, b, tx, ty] = at.map
  const { plate } = scene
  const size = a * a + b * b
  // From places of the frame back to those of the plate.
  const [ia, ib] = [a / size, -b / size]
  const [ix, iy] = [-(ia * tx - ib * ty) - plate!.x, -(ib * tx + ia * ty) - plate!.y]
  const affine = [ia, ib, -ib, ia, ix * scale, iy * scale] as const
  const [left, top, right, bottom] = [rect.x, rect.y, rect.x + rect.width, rect.y + rect.height]
  const corners = [left, top, right, top, right, bottom, left, bottom]
  const places = corners.map((v, i) =>
    i % 2 ? ib * corners[i - 1]! + ia * v + iy * scale : ia * v - ib * corners[i + 1]! + ix * scale,
  )
  const region = intersect(boundsOf(places, 2), { x: 0, y: 0, width: still.width, height: still.height })
  const out = scratch.floats(slots.behind, 4 * rect.width * rect.height, true)
  if (isEmpty(region)) return out
  const data = workingPart(still, region, need, scene.light, scratch)
  resampleAffine({ data, region }, { data: out, region: rect }, affine, 'nothing', scratch)
  return out
}

/**
 * Brings a warped plate to the light of the frame in place: gain and offset of each channel by least squares over what both
 * show, twice more without what then is far off. Returns how far off counts as far: what is, is somebody whom no matte hides,
 * a rim that was traced too tight, and says nothing of what is behind.
 */
function matchLight(
  plate: Float32Array,
  { data, region }: RgbaArea,
  rect: Rect,
  hidden: Float32Array,
  scratch: Scratch,
): Rgb {
  const lights: { gain: number; offset: number; far: number }[] = []
  // Some ten thousand places tell it as well as all of them.
  const every = Math.max(1, Math.ceil(Math.sqrt((rect.width * rect.height) / 16_000)))
  for (let c = 0; c < 3; c++) {
    let [gain, offset, far] = [1, 0, Infinity]
    for (let round = 0; round < 3; round++) {
      let [n, sx, sy, sxx, sxy, apart] = [0, 0, 0, 0, 0, 0]
      for (let y = 0; y < rect.height; y += every) {
        let i = y * rect.width
        let at = 4 * ((rect.y + y - region.y) * region.width + rect.x - region.x) + c
        for (let x = 0; x < rect.width; x += every, i += every, at += 4 * every) {
          if (hidden[i]! > seen || plate[4 * i + 3]! < 0.99) continue
          const from = plate[4 * i + c]!
          const to = data[at]!
          const off = Math.abs(gain * from + offset - to)
          if (off > far) continue
          n++
          sx += from
          sy += to
          sxx += from * from
          sxy += from * to
          apart += off
        }
      }
      const spread = n * sxx - sx * sx
      if (n < 64) break
      const slope = spread > 1e-6 * n * n ? (n * sxy - sx * sy) / spread : 1
      gain = Math.max(0.5, Math.min(2, slope))
      offset = (sy - gain * sx) / n
      far = (3 * apart) / n + 1e-4
    }
    lights.push({ gain, offset, far: Math.max(leastFar, far) })
  }
  const [red, green, blue] = lights as [(typeof lights)[0], (typeof lights)[0], (typeof lights)[0]]
  const count = rect.width * rect.height
  const [gains, offsets] = [
    [red.gain, green.gain, blue.gain],
    [red.offset, green.offset, blue.offset],
  ] as const
  scratch.kernels.relightPixels(span(plate), count, gains, offsets)
  return [red.far, green.far, blue.far]
}

/** Whether a warped plate shows all but a hundredth of what is hidden. */
function knowsAll(plate: Float32Array, hidden: Float32Array): boolean {
  let [all, missing] = [0, 0]
  for (let i = 0; i < hidden.length; i++) {
    if (hidden[i]! <= seen) continue
    all++
    if (plate[4 * i + 3]! < 0.99) missing++
  }
  return missing <= 0.01 * all
}
