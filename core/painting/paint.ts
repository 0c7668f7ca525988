import { inflate, intersect, noRect, type Rect, unite } from '../geometry/rect.ts'
import type { Settings } from '../parameters/parameters.ts'
import { coverAt, type Raster } from '../pixels/buffers/raster.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { signedDistance } from '../pixels/filters/distance.ts'
import { type Backdrop, fieldOf } from '../tracking/background.ts'
import type { FollowPicture } from '../tracking/frame.ts'
import { type Grid, gridOf, gridSize } from './grid.ts'
import { divided, keptAreas, saidUnwanted, saidWanted, Samples, stillness, unsaid } from './sides.ts'
import { softEdge } from './softEdge.ts'
import { marked, type PaintStroke } from './strokes.ts'

const slots = { label: new Slot() }

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
  /** Mattes that nobody has looked at, as of a detector: carried from like those of a hand, but judged by the others. */
  seen?: ReadonlyMap<number, SeenMatte>
  picture(frame: number): Promise<FollowPicture>
  /** The backdrop that knows a frame; null where there is none, as in a clip of one frame. */
  backdrop(frame: number): Promise<Backdrop | null>
}

/** A matte and how sure whatever saw it is, 0 to 1. */
export interface SeenMatte {
  raster: Raster
  confidence: number
}

/** All mattes that are known before anything is computed: what a hand has set goes before what was seen. */
export const knownMattes = ({ hands, seen }: PaintTask): ReadonlyMap<number, Raster> =>
  new Map([...[...(seen ?? [])].map(([frame, { raster }]) => [frame, raster] as const), ...hands])

/** The settings of a painted part as they are computed with. */
export const paintSettings = (settings: Settings): PaintSettings => ({
  step: ([4, 2, 1] as const)[Number(settings.quality ?? 2) - 1] ?? 2,
  reach: Number(settings.edge ?? 2),
  every: Math.max(1, Number(settings.every ?? 1)),
})

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
  let box: Rect = noRect
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

export const boxAround = (box: Rect, picture: FollowPicture, step: number, by: number): Rect =>
  intersect(gridBox(inflate(box, by), step), gridSize(picture, step))

export function stillnessOn(grid: Grid, picture: FollowPicture, backdrop: Backdrop | null): Float32Array | null {
  const motion = backdrop?.motion(picture)
  if (!backdrop || !motion) return null
  const by = grid.step / 2
  const box = { x: grid.x * by, y: grid.y * by, width: grid.width * by, height: grid.height * by }
  return stillness(grid, fieldOf(backdrop, picture, motion, box))
}

/** 1 for the pixels of a grid whose middle a matte covers by half or more. */
export function labelOf(raster: Raster, grid: Grid): Uint8Array {
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
  signedDistance({ data: Float32Array.from(label), width: grid.width, height: grid.height }, new Scratch(), slots.label)

/** Plate pixels over which the odds of a carried matte turn at its edge, and how far they go. */
const turning = 10
const mostBefore = 3

/** Odds by where the matte was carried to: undecided at its edge, the surer the deeper in or out. */
export function oddsOf(label: Uint8Array, grid: Grid): Float32Array {
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

/** Known frames that are learned from at most: more tell little, and each has to be read. */
const mostHands = 6

/** Samples of the known frames nearest to one, and not of that one itself. */
export async function handSamples(task: PaintTask, to: number): Promise<Samples> {
  const samples = new Samples()
  const near = [...knownMattes(task)]
    .filter(([frame]) => frame !== to)
    .sort(([a], [b]) => Math.abs(a - to) - Math.abs(b - to))
    .slice(0, mostHands)
  for (const [frame, raster] of near) {
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
