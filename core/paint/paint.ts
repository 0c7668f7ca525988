import { fieldOf, type Backdrop } from '../follow/backdrop.ts'
import { isCut } from '../follow/cut.ts'
import type { FollowPicture } from '../follow/picture.ts'
import { intersect, unite, type Rect } from '../geometry/rect.ts'
import { signedDistance } from '../image/distance.ts'
import { Scratch } from '../image/scratch.ts'
import { rasterOf, type Raster } from '../image/raster.ts'
import type { Settings } from '../model/parameters.ts'
import { softEdge } from './edge.ts'
import { carried, coverAt, flowOf, type Flow } from './flow.ts'
import { gridOf, gridSize, type Grid } from './grid.ts'
import { divided, keptAreas, Samples, saidUnwanted, saidWanted, stillness, unsaid } from './sides.ts'
import { marked, type PaintStroke } from './strokes.ts'

/** How a painted matte is computed. */
export interface PaintSettings {
  /** Plate pixels of the grid on which a frame is divided: 4 quick, 2 good, 1 best. */
  step: 1 | 2 | 4
  /** Half the width of the soft edge's band in plate pixels. */
  reach: number
  /** The matte is computed afresh on every so many frames and carried by the flow between them. */
  every: number
}

/** What a painted matte is computed from. */
export interface PaintTask {
  settings: PaintSettings
  /** All strokes of the part. */
  strokes: readonly PaintStroke[]
  /** Mattes of the frames with strokes, as far as they are known. */
  hands: ReadonlyMap<number, Raster>
  picture(frame: number): Promise<FollowPicture>
  /** The backdrop that knows a frame; null where there is none, as in a clip of one frame. */
  backdrop(frame: number): Promise<Backdrop | null>
}

/** The settings of a painted part as they are computed with. */
export const paintSettings = (settings: Settings): PaintSettings => ({
  step: ([4, 2, 1] as const)[Number(settings.quality ?? 2) - 1] ?? 2,
  reach: Number(settings.edge ?? 2),
  every: Math.max(1, Number(settings.every ?? 1)),
})

/** A frame's matte as it was carried there, and how sure it is, 0 to 1; null where nothing of it is left. */
export interface PaintedFrame {
  frame: number
  raster: Raster | null
  sure: number
}

export interface CarryResult {
  frames: PaintedFrame[]
  /** Where runs ended before their time: the picture cuts, or nothing of the matte was left. */
  endings: { frame: number; why: 'cut' | 'lost' }[]
}

/** Plate pixels around what was found on which it may grow from one frame to the next. */
const room = 56
/** Plate pixels around a wanted side from which the looks of the other are learned. */
const around = 90

/** The matte of a frame by its strokes, and by where it was carried to (`before`) if it was. Null where nothing is wanted. */
export async function paintedFrame(task: PaintTask, frame: number, before: Raster | null): Promise<Raster | null> {
  const own = task.strokes.filter((stroke) => stroke.frame === frame)
  if (!own.some((stroke) => stroke.wanted) && !before) return null
  const picture = await task.picture(frame)
  const backdrop = await task.backdrop(frame)
  const learned = await handSamples(task, frame)
  // First over the whole picture on a coarse grid, then finer where something was found.
  let found = before
  for (const step of [4, task.settings.step]) {
    if (step === 4 && before) continue
    const box = found ? boxAround(found, picture, step, 40) : gridSize(picture, step)
    const grid = gridOf(picture, step, unite(box, boxOfStrokes(own, picture, step)))
    const still = stillnessOn(grid, picture, backdrop)
    const said = marked(own, grid, step)
    if (!own.some((stroke) => !stroke.wanted) && !before) rimUnwanted(said, grid, gridSize(picture, step))
    let label: Uint8Array | null = found && labelOf(found, grid)
    const odds = before && released(oddsOf(label!, grid), own, grid)
    // What was found coarsely shows both sides' looks already.
    for (let turn = found && !before ? 1 : 0; turn < 2; turn++) {
      const samples = learned.copy()
      samples.add(grid, said.map(sideSaid), still)
      if (label) samples.add(grid, nearLabels(label, said, grid), still)
      const looks = samples.looks()
      if (!looks) return null
      label = divided({ grid, looks, still, said, before: odds })
      const was = before && labelOf(before, grid)
      keptAreas(label, grid.width, (i) => said[i] === saidWanted || was?.[i] === 1)
    }
    found = softEdge(picture, grid, label!, step === 4 && task.settings.step !== 4 ? 1 : task.settings.reach)
    if (!found) return null
  }
  return found
}

const sideSaid = (said: number) => (said === saidWanted ? 1 : said === saidUnwanted ? 0 : 2)

/** Nobody has said what is not wanted: the rim of the picture is not. */
function rimUnwanted(said: Uint8Array, grid: Grid, whole: Rect): void {
  const rim = 3
  for (let y = 0; y < grid.height; y++)
    for (let x = 0; x < grid.width; x++) {
      const [px, py] = [grid.x + x, grid.y + y]
      const out = px < rim || py < rim || px >= whole.width - rim || py >= whole.height - rim
      const at = y * grid.width + x
      if (out && said[at] === unsaid) said[at] = saidUnwanted
    }
}

function boxOfStrokes(strokes: readonly PaintStroke[], picture: FollowPicture, step: number): Rect {
  let box: Rect = { x: 0, y: 0, width: 0, height: 0 }
  for (const { points, size, wanted } of strokes)
    if (wanted)
      for (let i = 0; i < points.length; i += 2)
        box = unite(box, { x: points[i]! - size, y: points[i + 1]! - size, width: 2 * size, height: 2 * size })
  return intersect(gridBox(box, step), gridSize(picture, step))
}

function gridBox({ x, y, width, height }: Rect, step: number): Rect {
  const [x0, y0] = [Math.floor(x / step), Math.floor(y / step)]
  return { x: x0, y: y0, width: Math.ceil((x + width) / step) - x0, height: Math.ceil((y + height) / step) - y0 }
}

const boxAround = (box: Rect, picture: FollowPicture, step: number, by: number): Rect =>
  intersect(gridBox(boxOf(box, by), step), gridSize(picture, step))

function stillnessOn(grid: Grid, picture: FollowPicture, backdrop: Backdrop | null): Float32Array | null {
  const motion = backdrop?.motion(picture)
  if (!backdrop || !motion) return null
  const by = grid.step / 2
  const box = { x: grid.x * by, y: grid.y * by, width: grid.width * by, height: grid.height * by }
  return stillness(grid, fieldOf(backdrop, picture, motion, box))
}

/** 1 for the pixels of a grid whose middle a matte covers by half or more. */
function labelOf(raster: Raster, grid: Grid): Uint8Array {
  const out = new Uint8Array(grid.width * grid.height)
  for (let y = 0; y < grid.height; y++)
    for (let x = 0; x < grid.width; x++)
      if (coverAt(raster, (grid.x + x + 0.5) * grid.step, (grid.y + y + 0.5) * grid.step) >= 0.5)
        out[y * grid.width + x] = 1
  return out
}

/** Labels to learn from: what is found, what lies near it, but not the rim between both, and not what strokes say anyway. */
function nearLabels(label: Uint8Array, said: Uint8Array, grid: Grid): Uint8Array {
  const distance = distanceTo(label, grid)
  return label.map((side, i) => {
    const d = distance[i]! * grid.step
    return said[i] !== unsaid || Math.abs(d) < 2 || d > around ? 2 : side
  })
}

const distanceTo = (label: Uint8Array, grid: Grid): Float32Array =>
  signedDistance(Float32Array.from(label), grid.width, grid.height, new Scratch(), 'label')

/** Plate pixels over which the odds of a carried matte turn at its edge, and how far they go. */
const turning = 10
const mostBefore = 3

/** Odds by where the matte was carried to: undecided at its edge, the surer the deeper in or out. */
function oddsOf(label: Uint8Array, grid: Grid): Float32Array {
  return distanceTo(label, grid).map((d) => -mostBefore * Math.tanh((d * grid.step) / turning))
}

/** Near strokes that say otherwise the carried matte has less to say: the hand corrects more than it paints over. */
function released(odds: Float32Array, strokes: readonly PaintStroke[], grid: Grid): Float32Array {
  for (const wanted of [true, false]) {
    const ones = marked(
      strokes.filter((stroke) => stroke.wanted === wanted),
      grid,
      grid.step,
    )
    const against = ones.map((said, i) => (said !== unsaid && odds[i]! > 0 !== wanted ? 1 : 0))
    if (!against.some((one) => one)) continue
    const distance = distanceTo(against, grid)
    for (let i = 0; i < odds.length; i++)
      if (odds[i]! > 0 !== wanted) odds[i]! *= 1 - Math.exp(-((Math.max(0, distance[i]! * grid.step) / 40) ** 2))
  }
  return odds
}

/** Samples of the frames with strokes whose matte is known, but for one frame. */
async function handSamples(task: PaintTask, but: number): Promise<Samples> {
  const samples = new Samples()
  for (const [frame, raster] of task.hands) {
    if (frame === but) continue
    const picture = await task.picture(frame)
    const grid = gridOf(picture, 2, boxAround(raster, picture, 2, around))
    const own = task.strokes.filter((stroke) => stroke.frame === frame)
    const said = marked(own, grid, 2)
    const still = stillnessOn(grid, picture, await task.backdrop(frame))
    samples.add(grid, said.map(sideSaid), still)
    samples.add(grid, nearLabels(labelOf(raster, grid), said, grid), still)
  }
  return samples
}

/** Where a run of carrying stands: the matte on a frame, and the motion that led there. */
interface Carrying {
  frame: number
  raster: Raster
  flow: Flow | null
}

/**
 * Carries the matte from the frames with strokes over `from`..`to` (inclusive), forwards, backwards, and between two of
 * them both ways, blended. `found` hears of each frame as soon as it is there, `stopped` ends it between two frames.
 * Frames with strokes stay as they are. Throws a sentence where no frame has been painted.
 */
export async function carryPainted(
  task: PaintTask,
  from: number,
  to: number,
  found: (one: PaintedFrame) => void,
  stopped: () => boolean,
): Promise<CarryResult> {
  const hands = [...task.hands.keys()].sort((a, b) => a - b)
  const looks = (await handSamples(task, NaN)).looks()
  if (!looks) throw new Error('No frame is painted yet: stroke what is wanted on one, then carry it from there.')
  const out = new Map<number, PaintedFrame>()
  const endings: CarryResult['endings'] = []
  for (let k = -1; k < hands.length; k++) {
    const [a, b] = [hands[k], hands[k + 1]]
    const first = Math.max(from, a === undefined ? 0 : a + 1)
    const last = Math.min(to, b === undefined ? Infinity : b - 1)
    if (first > last || stopped()) continue
    const there = a === undefined ? null : await run(a, last)
    const back = b === undefined ? null : await run(b, first)
    for (let frame = first; frame <= last && !stopped(); frame++) {
      const [one, other] = [there?.get(frame), back?.get(frame)]
      if (one && other) keep(await both(one, other, (frame - a!) / (b! - a!)))
    }
    // Of a run that was ended between two hands what one side found is better than nothing.
    for (const one of [...(there?.values() ?? []), ...(back?.values() ?? [])])
      if (one.frame >= first && one.frame <= last && !out.has(one.frame)) out.set(one.frame, one)
  }
  return { frames: [...out.values()].sort((one, other) => one.frame - other.frame), endings }

  function keep(one: PaintedFrame): void {
    out.set(one.frame, one)
    found(one)
  }

  /**
   * From a hand's frame to `end`, whichever way that is. On every so many frames the matte is computed afresh; those
   * between two such are carried there from both, and blended.
   */
  async function run(hand: number, end: number): Promise<Map<number, PaintedFrame>> {
    const way = end > hand ? 1 : -1
    const told = new Map<number, PaintedFrame>()
    const tell = (one: PaintedFrame) => {
      told.set(one.frame, one)
      if (one.frame >= from && one.frame <= to) found(one)
    }
    let state: Carrying = { frame: hand, raster: task.hands.get(hand)!, flow: null }
    let between: PaintedFrame[] = []
    for (let frame = hand + way; (end - frame) * way >= 0 && !stopped(); frame += way) {
      const ended = await cutBetween(state.frame, frame)
      const moved = ended ? null : await moveTo(state, frame)
      const fresh = Math.abs(frame - hand) % task.settings.every === 0 || frame === end
      const next = moved && fresh ? await computed(moved.raster, frame) : moved && { raster: moved.raster, sure: 1 }
      if (!next?.raster) {
        endings.push({ frame, why: ended ? 'cut' : 'lost' })
        break
      }
      state = { frame, raster: next.raster, flow: moved!.flow }
      if (fresh) {
        for (const one of await backOver(state, between)) tell({ ...one, sure: next.sure })
        between = []
        tell({ frame, raster: next.raster, sure: next.sure })
      } else between.push({ frame, raster: next.raster, sure: 1 })
    }
    for (const one of between) tell({ ...one, sure: 0.5 })
    return told
  }

  async function cutBetween(before: number, frame: number): Promise<boolean> {
    return isCut(await task.picture(before), await task.picture(frame))
  }

  /** The matte as the flow carries it to a neighbouring frame; null where nothing of it is left in the picture. */
  async function moveTo({ frame, raster, flow }: Carrying, to: number): Promise<Carrying | null> {
    const [before, picture] = [await task.picture(frame), await task.picture(to)]
    const whole = gridSize(picture, 1)
    const next = flowOf(before, picture, raster, intersect(boxOf(raster, room), whole), flow)
    const moved = carried(raster, next, whole)
    const cut = rasterOf(moved.data, moved)
    return cut && { frame: to, raster: cut, flow: next }
  }

  /** Frames that were only carried to, blended with the matte carried back from the fresh one after them. */
  async function backOver(fresh: Carrying, between: PaintedFrame[]): Promise<PaintedFrame[]> {
    const out: PaintedFrame[] = []
    let back: Carrying | null = { ...fresh, flow: null }
    for (let i = between.length - 1; i >= 0; i--) {
      const one = between[i]!
      back = back && (await moveTo(back, one.frame))
      const share = (i + 1) / (between.length + 1)
      out.unshift(back ? { ...one, raster: mixed(one.raster!, back.raster, share) } : one)
    }
    return out
  }

  /** The matte of a frame by where it is thought to be. */
  async function computed(prior: Raster, frame: number): Promise<{ raster: Raster | null; sure: number }> {
    const { step, reach } = task.settings
    const picture = await task.picture(frame)
    const grid = gridOf(picture, step, boxAround(prior, picture, step, room))
    const still = stillnessOn(grid, picture, await task.backdrop(frame))
    const was = labelOf(prior, grid)
    const said = new Uint8Array(was.length)
    const label = divided({ grid, looks: looks!, still, said, before: oddsOf(was, grid) })
    keptAreas(label, grid.width, (i) => was[i] === 1)
    return { raster: softEdge(picture, grid, label, reach), sure: overlapOf(was, label) }
  }

  async function both(one: PaintedFrame, other: PaintedFrame, share: number): Promise<PaintedFrame> {
    const { frame } = one
    if (!one.raster || !other.raster) return share < 0.5 ? one : other
    const prior = mixed(one.raster, other.raster, share)
    const sure = Math.max(one.sure, other.sure) * overlapOfRasters(one.raster, other.raster)
    if (task.settings.every > 1) return { frame, sure, raster: prior }
    return { frame, sure, raster: (await computed(prior, frame)).raster }
  }
}

const boxOf = ({ x, y, width, height }: Rect, by: number): Rect => ({
  ...{ x: x - by, y: y - by, width: width + 2 * by, height: height + 2 * by },
})

function overlapOf(a: Uint8Array, b: Uint8Array): number {
  let [both, either] = [0, 0]
  for (let i = 0; i < a.length; i++) {
    if (a[i] && b[i]) both++
    if (a[i] || b[i]) either++
  }
  return either ? both / either : 0
}

/** Intersection over union of two mattes, 0 to 1. */
export function overlapOfRasters(a: Raster, b: Raster): number {
  const box = unite(a, b)
  let [both, either] = [0, 0]
  for (let y = box.y; y < box.y + box.height; y++)
    for (let x = box.x; x < box.x + box.width; x++) {
      const [p, q] = [coverAt(a, x + 0.5, y + 0.5), coverAt(b, x + 0.5, y + 0.5)]
      both += Math.min(p, q)
      either += Math.max(p, q)
    }
  return either ? both / either : 0
}

/** Two mattes of the same frame laid together: `share` of the second. */
function mixed(a: Raster, b: Raster, share: number): Raster {
  const box = unite(a, b)
  const data = new Uint8Array(box.width * box.height)
  for (let y = 0, i = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, i++) {
      const [px, py] = [box.x + x + 0.5, box.y + y + 0.5]
      data[i] = Math.round(255 * ((1 - share) * coverAt(a, px, py) + share * coverAt(b, px, py)))
    }
  return { ...box, data }
}
