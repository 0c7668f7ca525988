import { say } from '../say.ts'
import { inverseOf, mappedAll } from '../geometry/projective.ts'
import { boundsOf, type Rect, unite } from '../geometry/rect.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { i420Layout, type Yuv, yuvToRgba } from '../pixels/buffers/yuv.ts'
import { fillHoles } from '../pixels/filters/fillHoles.ts'
import { Refusal } from '../refusal.ts'
import { Backdrop, type CameraMotion, parts, sorterFor, unknown } from './background.ts'
import { bilinear, type FollowPicture } from './frame.ts'

/*
 * The clean plate of a shot at full size: for every place the median of what the frames show there once the camera's own
 * motion is taken out, without the pixels that the cast hides. What no frame shows is filled from its edge. It is as large
 * as all that the camera has seen.
 */

const slots = { fill: new Slot() }

/** What a clean plate is made from. */
export interface PlateTask {
  /** Frames of the shot. */
  length: number
  picture(frame: number): Promise<FollowPicture>
  /** What the cast hides on a frame: 1 for every pixel of the frame that is not to be taken from it; null for nothing. */
  hidden(frame: number): Uint8Array | null
  /** Whether it is known where everybody is on a frame: else they might be in what is taken from it. */
  isTold(frame: number): boolean
  matrix: Yuv['matrix']
  range: Yuv['range']
  /** Hears the share that is done, 0 to 1. */
  told(share: number): void
  stopped(): boolean
}

export interface CleanPlate {
  /** sRGB words with straight alpha: 255 for what is known or was filled, 0 for what the camera never saw. */
  picture: { words: Uint32Array; width: number; height: number }
  /** Place of its first pixel in the plate pixels of the frame that the motions start from. */
  x: number
  y: number
  /** Four numbers for every frame of the shot, as a Plate has them. */
  motions: number[]
  /** Share of what the camera saw that no frame shows without the cast: it was filled from its edge. */
  filled: number
  /** Frames whose place in it could not be found. */
  lost: number
}

/** Frames that the median is taken of. */
const samples = 32
/** Frames on which the cast must be traced at least, as far as the shot has them. */
const fewest = 8
/** The plate is at most so many times as wide and as high as a frame, and has at most so many pixels. */
const widest = 3
const mostPixels = 48e6

/** Null when it was stopped. Throws a Refusal where the cast is hardly traced, or hardly a frame lies where another does. */
export async function cleanPlate(task: PlateTask): Promise<CleanPlate | null> {
  const { length } = task
  const told = Array.from({ length }, (_, frame) => frame).filter((frame) => task.isTold(frame))
  if (told.length < Math.min(length, fewest))
    throw new Refusal(
      say`No clean plate could be made: the cast is traced on only ${told.length} of ${length} frames, and on all others it would be in it. Follow or carry it through the shot first, or mark it away where it is not there.`,
    )
  const count = Math.min(told.length, samples)
  const at = Array.from(
    { length: count },
    (_, i) => told[Math.round((i * (told.length - 1)) / Math.max(1, count - 1))]!,
  )
  const base = at[at.length >> 1]!
  const pictures: FollowPicture[] = []
  for (const frame of at) {
    if (task.stopped()) return null
    pictures.push(await task.picture(frame))
    task.told((0.15 * pictures.length) / count)
  }
  const first = pictures[at.indexOf(base)]!
  // Where frames lie is asked of the first one; what it shows behind is settled below, at full size.
  const backdrop = new Backdrop(first, [first])
  const motions = await motionsOf(task, backdrop, base)
  if (!motions) return null
  const known = motions.filter((one) => one !== null).length
  if (length > 1 && known < 0.5 * length)
    throw new Refusal(
      say`No clean plate could be made: the surroundings of only ${known} of ${length} frames lie where others show them. Cut the shot where the picture cuts, or do without it: the hole is filled from its edge then.`,
    )
  const canvas = canvasOf(first, motions)
  const ways = at.flatMap((frame, i) => {
    const motion = motions[frame]
    return motion ? [{ picture: pictures[i]!, motion, hidden: task.hidden(frame) }] : []
  })
  const made = await settle(task, ways, canvas)
  return (
    made && {
      ...made,
      ...{ x: canvas.x, y: canvas.y, lost: length - known },
      motions: motions.flatMap((motion) => numbersOf(motion)),
    }
  )
}

/** A motion as a record keeps it: a ten-thousandth of a pixel at the far corner of the largest picture. */
function numbersOf(motion: CameraMotion | null): number[] {
  if (!motion) return [0, 0, 0, 0]
  const [a, , tx, b, , ty] = motion.map
  const rounded = (value: number, by: number) => Math.round(value * by) / by
  return [rounded(a, 1e8), rounded(b, 1e8), rounded(tx, 1e3), rounded(ty, 1e3)]
}

/** How the camera has moved on every frame, from the first one outwards on either side. */
async function motionsOf(task: PlateTask, backdrop: Backdrop, base: number): Promise<(CameraMotion | null)[] | null> {
  const { length } = task
  const out: (CameraMotion | null)[] = Array.from({ length }, () => null)
  let done = 0
  for (const way of [1, -1])
    for (let frame = base; frame >= 0 && frame < length; frame += way) {
      if (task.stopped()) return null
      out[frame] = backdrop.motion(await task.picture(frame))
      task.told(0.2 + (0.5 * ++done) / (length + 1))
    }
  return out
}

/** All that the camera saw, in whole pixels of the frame that the motions start from. */
function canvasOf({ width, height }: FollowPicture, motions: readonly (CameraMotion | null)[]): Rect {
  const frame = { x: 0, y: 0, width, height }
  let canvas: Rect = frame
  for (const motion of motions) {
    const back = motion && inverseOf(motion.map)
    if (!back) continue
    const box = boundsOf(mappedAll(back, [0, 0, width, 0, width, height, 0, height]))
    const all = unite(canvas, box)
    // A frame that lies beyond what is carried along is filled from its edge.
    if (all.width <= widest * width && all.height <= widest * height && all.width * all.height <= mostPixels)
      canvas = all
  }
  // Even places and sizes, for the planes of colour.
  const x = 2 * Math.floor(canvas.x / 2)
  const y = 2 * Math.floor(canvas.y / 2)
  const w = 2 * Math.ceil((canvas.x + canvas.width - x) / 2)
  const h = 2 * Math.ceil((canvas.y + canvas.height - y) / 2)
  return { x, y, width: w, height: h }
}

/** A frame that shows something of the plate. */
interface Way {
  picture: FollowPicture
  motion: CameraMotion
  hidden: Uint8Array | null
}

/** What of a frame goes into a plane of the plate: its pixels, and how places of the plane lie on it. */
interface Shown {
  data: Uint8Array
  row: number
  width: number
  height: number
  hidden: Uint8Array | null
  map: readonly [a: number, b: number, tx: number, ty: number]
  gain: number
  offset: number
}

async function settle(task: PlateTask, ways: readonly Way[], canvas: Rect) {
  const { width, height } = canvas
  const layout = i420Layout(width, height)
  const data = new Uint8Array(layout.bytes)
  const half = { x: canvas.x / 2, y: canvas.y / 2, width: width / 2, height: height / 2 }
  const bright = ways.map(({ picture, motion, hidden }): Shown => {
    const [a, , tx, b, , ty] = motion.map
    const { width, height } = picture
    return { ...motion.light, ...{ data: picture.luma, row: width, width, height, hidden, map: [a, b, tx, ty] } }
  })
  const halved = ways.map(({ picture, hidden }) => hidden && reduced(hidden, picture))
  const coloured = (plane: 'u' | 'v') =>
    ways.map(({ picture, motion }, i): Shown => {
      const [a, , tx, b, , ty] = motion.map
      const [w, h] = [picture.width >> 1, picture.height >> 1]
      return {
        ...{ data: picture[plane], row: picture.chromaWidth, width: w, height: h, hidden: halved[i]! },
        ...{ map: [a, b, tx / 2, ty / 2], gain: 1, offset: 0 },
      }
    })
  /** 0 for what the camera never saw, 1 for what was hidden whenever it looked there, 2 for what is known. */
  const states = new Uint8Array(width * height)
  const coarse = new Uint8Array((width * height) / 4)
  const planes = layout.planes.map(({ offset }) => data.subarray(offset))
  if (!(await medians(task, bright, canvas, planes[0]!, states, [0.7, 0.9]))) return null
  if (!(await medians(task, coloured('u'), half, planes[1]!, coarse, [0.9, 0.93]))) return null
  if (!(await medians(task, coloured('v'), half, planes[2]!, coarse, [0.93, 0.96]))) return null
  let [seen, open] = [0, 0]
  for (const state of states) {
    if (state) seen++
    if (state === 1) open++
  }
  // A rim whose brightness is seen has a colour, too.
  const { width: row } = half
  for (let i = 0; i < states.length; i++) {
    const at = Math.floor(i / width / 2) * row + Math.floor((i % width) / 2)
    if (states[i] && !coarse[at]) coarse[at] = 1
  }
  if (open || coarse.includes(1)) fill(planes, states, coarse, width, height)
  const words = new Uint32Array(width * height)
  const { matrix, range } = task
  yuvToRgba({ data, planes: layout.planes, width, height, matrix, range, rotation: 0 }, words)
  for (let i = 0; i < words.length; i++) if (!states[i]) words[i] = 0
  task.told(1)
  return { picture: { words, width, height }, filled: seen ? open / seen : 0 }
}

/** A mask at half size: 1 where any of the four pixels is. */
function reduced(mask: Uint8Array, { width, height }: FollowPicture): Uint8Array {
  const [w, h] = [width >> 1, height >> 1]
  const out = new Uint8Array(w * h)
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const at = 2 * y * width + 2 * x
      out[y * w + x] = mask[at]! | mask[at + 1]! | mask[at + width]! | mask[at + width + 1]!
    }
  return out
}

/** Fills a plane of the plate with the median of what frames show of it; false when it was stopped. */
async function medians(
  task: PlateTask,
  shown: readonly Shown[],
  canvas: Rect,
  out: Uint8Array,
  states: Uint8Array,
  [from, to]: readonly [number, number],
): Promise<boolean> {
  const { width, height } = canvas
  const known = new Uint8Array(width)
  const n = shown.length
  for (let j = 0; j < height; j++) {
    if (j % 64 === 0) {
      task.told(from + ((to - from) * j) / height)
      await task.picture(0)
      if (task.stopped()) return false
    }
    // Asked for anew on every row: whoever else sorts meanwhile has the same memory.
    const { kernels, planes, row } = sorterFor(n, width)
    const values = planes[0]
    values.fill(unknown)
    known.fill(0)
    const seen = states.subarray(j * width, (j + 1) * width)
    for (const one of shown) gatherRow(one, canvas, j, values, row, known, seen)
    kernels.sortColumns(values, n, row)
    for (let i = 0; i < width; i++) {
      const count = known[i]!
      if (!count) continue
      seen[i] = 2
      const middle = values[((count - 1) >> 1) * row + i]! + values[(count >> 1) * row + i]!
      out[j * width + i] = Math.min(255, Math.round(middle / (2 * parts)))
    }
  }
  return true
}

/** What a frame shows of a row of the plate: a value more for each column where it is not hidden. */
function gatherRow(
  { data, row: stride, width: w, height: h, hidden, map, gain, offset }: Shown,
  { x, y, width }: Rect,
  j: number,
  values: Uint16Array,
  row: number,
  known: Uint8Array,
  seen: Uint8Array,
): void {
  const [a, b, tx, ty] = map
  let px = a * (x + 0.5) - b * (y + j + 0.5) + tx - 0.5
  let py = b * (x + 0.5) + a * (y + j + 0.5) + ty - 0.5
  for (let i = 0; i < width; i++, px += a, py += b) {
    // Half a pixel beyond the last centres is still the picture's own.
    if (!(px >= -0.5 && py >= -0.5 && px <= w - 0.5 && py <= h - 0.5)) continue
    const cx = px < 0 ? 0 : px > w - 1.001 ? w - 1.001 : px
    const cy = py < 0 ? 0 : py > h - 1.001 ? h - 1.001 : py
    const [ix, iy] = [cx | 0, cy | 0]
    if (!seen[i]) seen[i] = 1
    if (hidden && hidden[((cy + 0.5) | 0) * w + ((cx + 0.5) | 0)]) continue
    const at = iy * stride + ix
    const value = (bilinear(data, at, stride, cx - ix, cy - iy) - offset) / gain
    values[known[i]!++ * row + i] = parts * (value < 0 ? 0 : value > 255 ? 255 : value) + 0.5
  }
}

/** Fills what no frame shows from around it, on the grid of the colours: there is no more in it than that. */
function fill(planes: Uint8Array[], states: Uint8Array, coarse: Uint8Array, width: number, height: number): void {
  const [w, h] = [width / 2, height / 2]
  const scratch = new Scratch()
  const picture = { data: scratch.floats(slots.fill, 4 * w * h, true), width: w, height: h }
  const [y, u, v] = planes as [Uint8Array, Uint8Array, Uint8Array]
  const corners = (i: number) => {
    const at = 2 * Math.floor(i / w) * width + 2 * (i % w)
    return [at, at + 1, at + width, at + width + 1]
  }
  for (let i = 0; i < w * h; i++) {
    const four = corners(i)
    if (coarse[i] !== 2 || four.some((at) => states[at] !== 2)) continue
    picture.data.set([four.reduce((sum, at) => sum + y[at]!, 0) / 4, u[i]!, v[i]!, 1], 4 * i)
  }
  fillHoles(picture, scratch)
  for (let i = 0; i < w * h; i++) {
    for (const at of corners(i)) if (states[at] === 1) y[at] = Math.round(picture.data[4 * i]!)
    if (coarse[i] === 2) continue
    u[i] = Math.round(picture.data[4 * i + 1]!)
    v[i] = Math.round(picture.data[4 * i + 2]!)
  }
}
