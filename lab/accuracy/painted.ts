import { memberMatte } from '#core/matte/partMatte.ts'
import { carryPainted } from '#core/painting/carry.ts'
import { paintedFrame, type PaintTask } from '#core/painting/paint.ts'
import type { PaintStroke } from '#core/painting/strokes.ts'
import { coverAt, type Raster } from '#core/pixels/buffers/raster.ts'
import { Scratch, Slot } from '#core/pixels/buffers/scratch.ts'
import { signedDistance } from '#core/pixels/filters/distance.ts'
import type { Backdrop } from '#core/tracking/background.ts'
import type { FollowPicture } from '#core/tracking/frame.ts'
import { outlineNodes } from '../scenes/paint.ts'
import type { Truth } from '../scenes/scene.ts'
import { framesOf } from '../support/frames.ts'
import { backdropsOf } from '../support/unwatched.ts'

const slots = { truth: new Slot(), boundary: new Slot(), fault: new Slot() }

export interface PaintedFigure {
  what: string
  /** Intersection over union of the frames without strokes, and of the painted ones; mean, and the least. */
  overlap: number
  least: number
  painted: number
  /** Of what is covered only for a part of the open shutter, the share that is in the matte; NaN where nothing is. */
  smeared: number
  /** Mean distance of both edges from one another in px, mean over the frames. */
  boundary: number
  strokes: number
  ms: number
  /** Frames of an overlap below 0.85, and how many of them were marked unsure. */
  wrong: string
  /** Of every frame that no hand painted. */
  frames: { overlap: number; confidence: number }[]
}

const unsure = 0.5

/** A performer to be painted: frames, a second's number of them, its true matte on each, and a first stroke along it. */
export interface Performer {
  what: string
  frames: FollowPicture[]
  rate: number
  known: Float32Array[]
  along: number[]
}

/** Performers whose outlines are known, and the limbs that a stroke along the body runs over. */
export const performers: Record<string, { name: string; body: string[] }> = {
  leap: {
    name: 'performer of the leap',
    body: [
      ...['right hand', 'right forearm', 'right upper arm', 'neck', 'head', 'hat'],
      ...['head', 'torso', 'left thigh', 'left shin', 'left boot'],
    ],
  },
  'jetty-swing': {
    name: 'performer of the swing',
    body: [
      ...['right hand', 'right forearm', 'right arm', 'neck', 'head', 'crown'],
      ...['head', 'torso', 'left leg', 'left boot'],
    ],
  },
}

/**
 * A performer's matte by strokes as a hand would set them that knows the truth: on the first frame one along the body
 * and one around it, then once a second, where it is most wrong, one over each of the largest faults.
 */
export async function painted({ what, frames, rate, known, along }: Performer): Promise<PaintedFigure[]> {
  const backdrop = await backdropsOf(frames).wide(0)
  const size = frames[0]!
  const strokes: PaintStroke[] = [
    { frame: 0, wanted: true, size: 12, points: along },
    { frame: 0, wanted: false, size: 14, points: aroundMatte(known[0]!, size) },
  ]
  const hands = new Map<number, Raster>()
  const task = taskOf(frames, backdrop, strokes, hands)
  const out: PaintedFigure[] = []
  hands.set(0, (await paintedFrame(task, 0, null))!)
  let track = await carried(task, frames.length)
  out.push(figureOf(`${what}, two strokes on frame 0`, track, known, hands, strokes.length))
  // One frame a second: the worst of each stretch, seen after the ones before it were mended.
  const second = Math.round(rate)
  for (let from = 0; from < frames.length; from += second) {
    const stretch = Array.from({ length: Math.min(second, frames.length - from) }, (_, i) => from + i)
    const off = (frame: number) => overlap(track.rasters[frame]!, known[frame]!, size)
    const worst = stretch.reduce((a, b) => (off(b) < off(a) ? b : a))
    for (let turn = 0; turn < 2; turn++) {
      const before = turn ? hands.get(worst)! : track.rasters[worst]!
      strokes.push(...faultStrokes(before, known[worst]!, size, worst))
      const raster = await paintedFrame(task, worst, before)
      if (raster) hands.set(worst, raster)
    }
    track = await carried(task, frames.length)
  }
  out.push(figureOf(`${what}, one corrected frame a second`, track, known, hands, strokes.length))
  return out
}

const taskOf = (
  frames: FollowPicture[],
  backdrop: Backdrop,
  strokes: PaintStroke[],
  hands: Map<number, Raster>,
): PaintTask => ({
  ...{ settings: { step: 2, reach: 2, every: 1 }, strokes, hands },
  picture: (frame) => Promise.resolve(frames[frame]!),
  backdrop: () => Promise.resolve(backdrop),
})

interface Track {
  rasters: (Raster | null)[]
  confidence: number[]
  ms: number
}

async function carried(task: PaintTask, length: number): Promise<Track> {
  const before = process.cpuUsage().user
  const { frames: found } = await carryPainted(
    task,
    0,
    length - 1,
    () => {},
    () => false,
  )
  const ms = (process.cpuUsage().user - before) / 1000 / Math.max(1, found.length)
  const rasters: (Raster | null)[] = Array.from({ length }, (_, frame) => task.hands.get(frame) ?? null)
  const confidence = rasters.map(() => 1)
  for (const one of found) {
    rasters[one.frame] = one.raster
    confidence[one.frame] = one.confidence
  }
  return { rasters, confidence, ms }
}

function figureOf(
  what: string,
  { rasters, confidence, ms }: Track,
  known: Float32Array[],
  hands: Map<number, Raster>,
  strokes: number,
): PaintedFigure {
  const size = { width: 1280, height: known[0]!.length / 1280 }
  const overlaps = rasters.map((raster, frame) => overlap(raster, known[frame]!, size))
  const free = overlaps.flatMap((_, frame) => (hands.has(frame) ? [] : [frame]))
  const mean = (list: number[]) => list.reduce((a, b) => a + b, 0) / Math.max(1, list.length)
  const wrong = free.filter((frame) => overlaps[frame]! < 0.85)
  return {
    what,
    overlap: mean(free.map((frame) => overlaps[frame]!)),
    least: Math.min(...free.map((frame) => overlaps[frame]!)),
    painted: mean([...hands.keys()].map((frame) => overlaps[frame]!)),
    smeared: smearKept(rasters, known, free, size),
    boundary: mean(free.map((frame) => boundary(rasters[frame]!, known[frame]!, size))),
    strokes,
    ms,
    frames: free.map((frame) => ({ overlap: overlaps[frame]!, confidence: confidence[frame]! })),
    wrong: `${wrong.filter((frame) => confidence[frame]! < unsure).length} of ${wrong.length}`,
  }
}

/** A performer of a drawn scene, by its outlines. */
export function drawnPerformer(
  file: string,
  truth: Truth,
  { name, body }: { name: string; body: string[] },
): Performer {
  const frames = framesOf(file, truth.width, truth.height)
  const known = frames.map((_, frame) => truthMatte(truth, frame))
  return { what: name, frames, rate: truth.rate, known, along: alongBody(truth, body, 0) }
}

/** What all outlines of a frame cover together, at full size. */
function truthMatte(truth: Truth, frame: number): Float32Array {
  const parts = truth.outlines.flatMap(({ points }) =>
    points[frame]?.length
      ? [{ kind: 'outline', settings: { feather: 0 }, role: 'add' as const, points: outlineNodes(points[frame]!) }]
      : [],
  )
  const region = { x: 0, y: 0, width: truth.width, height: truth.height }
  return memberMatte(parts, 1, region, new Scratch(), slots.truth).slice()
}

type Size = { width: number; height: number }

/** Of the pixels that are covered by half or more: a soft edge over motion blur is not held against the matte. */
function overlap(raster: Raster | null, known: Float32Array, { width }: Size): number {
  let [both, either] = [0, 0]
  for (let i = 0; i < known.length; i++) {
    const own = raster !== null && coverAt(raster, (i % width) + 0.5, Math.floor(i / width) + 0.5) >= 0.5
    const there = known[i]! >= 0.5
    if (own && there) both++
    if (own || there) either++
  }
  return either ? both / either : 1
}

/** Of what moves too fast to cover a pixel for long, apart from the soft edge of what is there all the time. */
function smearKept(rasters: (Raster | null)[], known: Float32Array[], free: number[], { width, height }: Size): number {
  let [all, kept] = [0, 0]
  for (const frame of free) {
    const cover = known[frame]!
    const whole = Float32Array.from(cover, (v) => (v > 0.95 ? 1 : 0))
    const distance = signedDistance({ data: whole, width, height }, new Scratch(), slots.boundary)
    for (let i = 0; i < cover.length; i++) {
      if (cover[i]! < 0.1 || distance[i]! <= 3) continue
      const raster = rasters[frame]
      all += cover[i]!
      if (raster) kept += Math.min(cover[i]!, coverAt(raster, (i % width) + 0.5, Math.floor(i / width) + 0.5))
    }
  }
  return kept / all
}

function boundary(raster: Raster | null, known: Float32Array, { width, height }: Size): number {
  if (!raster) return 100
  const own = Float32Array.from(known, (_, i) => coverAt(raster, (i % width) + 0.5, Math.floor(i / width) + 0.5))
  const apart = (a: Float32Array, b: Float32Array) => {
    const distance = signedDistance({ data: a, width, height }, new Scratch(), slots.boundary)
    let [sum, count] = [0, 0]
    for (let i = 0; i < b.length - width - 1; i++) {
      const side = b[i]! >= 0.5
      if (side === b[i + 1]! >= 0.5 && side === b[i + width]! >= 0.5) continue
      sum += Math.min(100, Math.abs(distance[i]!))
      count++
    }
    return count ? sum / count : 0
  }
  return (apart(own, known) + apart(known, own)) / 2
}

const middleOf = (points: number[]): [number, number] => {
  let [x, y] = [0, 0]
  for (let i = 0; i < points.length; i += 2) {
    x += (2 * points[i]!) / points.length
    y += (2 * points[i + 1]!) / points.length
  }
  return [x, y]
}

/** Along the middles of the limbs. */
function alongBody(truth: Truth, chain: string[], frame: number): number[] {
  return chain.flatMap((name) => middleOf(truth.outlines.find((one) => one.name === name)!.points[frame]!))
}

/** Around a whole matte, a hand's width away: along the box of each sixth of its height. */
function aroundMatte(matte: Float32Array, { width }: Size): number[] {
  const [left, right]: [number[], number[]] = [[], []]
  const rows = new Map<number, [number, number]>()
  for (let i = 0; i < matte.length; i++) {
    if (matte[i]! < 0.5) continue
    const [x, y] = [i % width, Math.floor(i / width)]
    const [from, to] = rows.get(y) ?? [x, x]
    rows.set(y, [Math.min(from, x), Math.max(to, x)])
  }
  const [top, bottom] = [Math.min(...rows.keys()) - 24, Math.max(...rows.keys()) + 24]
  const bands = 6
  for (let k = 0; k < bands; k++) {
    const [y0, y1] = [top + ((bottom - top) * k) / bands, top + ((bottom - top) * (k + 1)) / bands]
    const xs = [...rows].flatMap(([y, ends]) => (y >= y0 - 20 && y <= y1 + 20 ? ends : []))
    if (!xs.length) continue
    left.push(Math.min(...xs) - 24, (y0 + y1) / 2)
    right.unshift((y0 + y1) / 2, Math.max(...xs) + 24)
  }
  const back: number[] = []
  for (let i = 0; i < right.length; i += 2) back.push(right[i + 1]!, right[i]!)
  const [x0, x1] = [left[0]!, back.at(-2)!]
  return [(x0 + x1) / 2, top, ...left, (left.at(-2)! + back[0]!) / 2, bottom, ...back, (x0 + x1) / 2, top]
}

/** One stroke over the largest place that is missing, and one over the largest that is too much. */
function faultStrokes(
  raster: Raster | null,
  known: Float32Array,
  { width, height }: Size,
  frame: number,
): PaintStroke[] {
  const out: PaintStroke[] = []
  for (const wanted of [true, false]) {
    const fault = new Float32Array(known.length)
    for (let i = 0; i < fault.length; i++) {
      const own = raster ? coverAt(raster, (i % width) + 0.5, Math.floor(i / width) + 0.5) : 0
      if (wanted ? known[i]! > 0.9 && own < 0.5 : known[i]! < 0.1 && own > 0.5) fault[i] = 1
    }
    const depth = signedDistance({ data: fault, width, height }, new Scratch(), slots.fault)
    let deepest = 0
    for (let i = 0; i < depth.length; i++) if (depth[i]! < depth[deepest]!) deepest = i
    // A hand does not go after what is thinner than three pixels.
    const thick = -depth[deepest]!
    if (thick < 1.5) continue
    out.push({ frame, wanted, size: Math.max(2, 1.4 * thick), points: along(fault, depth, deepest, width, thick) })
  }
  return out
}

/** From the deepest place of a fault both ways to the farthest of it that are half as deep. */
function along(fault: Float32Array, depth: Float32Array, deepest: number, width: number, thick: number): number[] {
  const at = (i: number): [number, number] => [(i % width) + 0.5, Math.floor(i / width) + 0.5]
  const [x, y] = at(deepest)
  const seen = new Set([deepest])
  const queue = [deepest]
  for (let k = 0; k < queue.length; k++)
    for (const to of [queue[k]! - 1, queue[k]! + 1, queue[k]! - width, queue[k]! + width])
      if (!seen.has(to) && fault[to] && depth[to]! < -0.6 * thick) {
        seen.add(to)
        queue.push(to)
      }
  const distance = (i: number) => Math.hypot(at(i)[0] - x, at(i)[1] - y)
  const far = queue.reduce((a, b) => (distance(b) > distance(a) ? b : a))
  return distance(far) > 3 ? [x, y, ...at(far)] : [x, y]
}

export function printPainted(figures: PaintedFigure[]): void {
  for (const one of figures) {
    console.log(one.what)
    console.log(
      `  overlap ${one.overlap.toFixed(3)}, least ${one.least.toFixed(3)}, of painted frames ${one.painted.toFixed(3)}; ` +
        `edges apart ${one.boundary.toFixed(2)} px; ${one.strokes} strokes; ` +
        (one.smeared > 0 ? `of what smears ${(100 * one.smeared).toFixed(0)} %; ` : '') +
        `below 0.85 marked ${one.wrong}; ${one.ms.toFixed(0)} ms a frame`,
    )
  }
}
