import { intersect, isEmpty, type Rect } from '../geometry/rect.ts'
import type { RgbaArea } from '../pixels/buffers/picture.ts'
import { type Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { coverOf } from './region.ts'
import type { Scene } from './scene.ts'
import { holeBounds } from './surroundings.ts'

/*
 * What is behind somebody along their soft edge is in the frame itself, mixed with them: I = a F + (1 - a) B. A picture without
 * them knows B less well where it was filled from an edge, or where what is behind them moves. How well, is seen just beside
 * them, where the frame shows B alone.
 */

const slots = { matte: new Slot(), edge: new Slot(), fronts: new Slot(), offs: new Slot() }

/** From where on a matte shows nobody but whom it covers. */
const whole = 0.98
/** Up to where it shows nothing of them. */
const bare = 0.02
/** Full-size pixels of a cell: what lies around a pixel is gathered by cells. */
const cellSize = 6
/** Cells to every side that have a say in one. */
const reach = 3
/** Squares of errors of working values along an edge: of all, of what lies beside a contrast of 1 (coding smears), and of who is in front. */
const errors = { all: 0.005 ** 2, beside: 0.05 ** 2, front: 0.03 ** 2 }
/** How much further off a filled picture is behind somebody than beside them: mean squares. */
const deeper = 2

/** How much further off than its error what is seen has to be from what was filled for the matte to be wrong there: squares. */
const beyond = 4

/** What is behind somebody as the frame shows it. */
export interface Seen extends RgbaArea {
  /**
   * Pixels of the region: how much of the way from what was filled there to what is seen is made where something else takes the
   * place of it, 0..1. What is seen is then the rim of somebody, too, whose matte is too tight there, and stays.
   */
  replaced: Float32Array
}

/**
 * What is behind somebody as the frame shows it, over their hole, in the buffers of `slot`: the picture without them, along their
 * soft edge drawn towards (I - a F) / (1 - a), F being what is seen of them near by. Both count by how far off they are likely to
 * be; where they contradict each other the matte is wrong, and the frame is right. Null where nobody is.
 */
export function seenBehind(
  scene: Scene,
  of: readonly string[],
  { time, scale }: { time: number; scale: number },
  { data: frame, region }: RgbaArea,
  without: Float32Array,
  scratch: Scratch,
  slot: Slot,
): Seen | null {
  const rect = intersect(holeBounds(scene, of, time, scale), region)
  if (isEmpty(rect)) return null
  const { width, height } = rect
  const behind = scratch.floats(slot, 4 * width * height)
  const replaced = scratch.floats(slot.part('replaced'), width * height)
  for (let y = 0; y < height; y++) {
    const from = 4 * ((rect.y + y - region.y) * region.width + rect.x - region.x)
    behind.set(without.subarray(from, from + 4 * width), 4 * y * width)
  }
  scratch.passing(() => {
    const matte = coverOf(scene, of, { time, scale, rect }, scratch, slots.matte)
    const size = Math.max(1, Math.round(cellSize * scale))
    const look: Look = { frame, without, region, rect, matte, size, columns: Math.ceil(width / size) }
    const rows = Math.ceil(height / size)
    const fronts = cellsOf(look.columns, rows, 4, scratch, slots.fronts)
    const offs = cellsOf(look.columns, rows, 1, scratch, slots.offs)
    const edge = lookOver(look, fronts, replaced, scratch)
    gatherOffs(look, edge, fronts, offs)
    drawTowards(look, edge, fronts, offs, behind, replaced)
  })
  return { data: behind, region: rect, replaced }
}

/** What is looked at: a frame and what it was filled to, over a region, and a matte over a part of it, by cells. */
interface Look {
  frame: Float32Array
  without: Float32Array
  region: Rect
  rect: Rect
  matte: Float32Array
  /** Pixels of a cell. */
  size: number
  /** Cells of a row. */
  columns: number
}

/**
 * Gathers colours of whom is seen, and their squares. Returns by threes which pixels were filled where less than all of somebody is:
 * their places in the part and in the region's numbers, and their cells. `marks`: numbers of the part, 0 afterwards.
 */
function lookOver(
  { frame, without, region, rect: { x: left, y: top, width, height }, matte, size, columns }: Look,
  fronts: Cells,
  marks: Float32Array,
  scratch: Scratch,
): Uint32Array {
  let count = 0
  const every = Math.max(1, size >> 1)
  const rowAt = (y: number) => 4 * ((top + y - region.y) * region.width + left - region.x)
  for (let y = 0, i = 0; y < height; y++) {
    let at = rowAt(y)
    const row = Math.floor(y / size) * columns
    const looked = y % every === 0
    for (let x = 0; x < width; x++, i++, at += 4) {
      marks[i] = 0
      if (matte[i]! > whole) {
        if (!looked || x % every) continue
        const r = frame[at]!
        const g = frame[at + 1]!
        const b = frame[at + 2]!
        fronts.add(row + Math.floor(x / size), r, g, b, (r * r + g * g + b * b) / 3)
      } else if (frame[at] !== without[at] || frame[at + 1] !== without[at + 1] || frame[at + 2] !== without[at + 2]) {
        marks[i] = 1
        count++
      }
    }
  }
  const edge = scratch.words(slots.edge, 3 * count)
  for (let y = 0, i = 0, k = 0; y < height && k < edge.length; y++) {
    const row = Math.floor(y / size) * columns
    for (let x = 0; x < width; x++, i++) {
      if (marks[i] === 0) continue
      marks[i] = 0
      edge[k++] = i
      edge[k++] = rowAt(y) + 4 * x
      edge[k++] = row + Math.floor(x / size)
    }
  }
  return edge
}

/** Gathers squares of how far off is what was filled, where the frame shows what is behind alone. */
function gatherOffs({ frame, without, matte }: Look, edge: Uint32Array, fronts: Cells, offs: Cells): void {
  for (let k = 0; k < edge.length; k += 3) {
    if (matte[edge[k]!]! > bare) continue
    const at = edge[k + 1]!
    const cell = edge[k + 2]!
    const front = fronts.around(cell)
    let all = 0
    let along = 0
    let apart = 0
    for (let c = 0; c < 3; c++) {
      const off = frame[at + c]! - without[at + c]!
      const to = front < 0 ? 0 : fronts.means[front + c]! - without[at + c]!
      all += off * off
      along += off * to
      apart += to * to
    }
    // Towards somebody it is off where their matte is too tight, too: what is off the other way counts for both.
    if (apart > 0) all += ((along > 0 ? -1 : 1) * along * along) / apart
    offs.add(cell, all / 3)
  }
}

/** Draws what was filled towards what is seen, along the edge, and says how far where something takes its place. */
function drawTowards(
  { frame, without, matte }: Look,
  edge: Uint32Array,
  fronts: Cells,
  offs: Cells,
  behind: Float32Array,
  replaced: Float32Array,
): void {
  for (let k = 0; k < edge.length; k += 3) {
    const i = edge[k]!
    const at = edge[k + 1]!
    const cell = edge[k + 2]!
    const front = fronts.around(cell)
    const off = offs.around(cell)
    const a = matte[i]!
    if (off < 0 || (a > 0 && front < 0)) continue
    let unsure = errors.all
    if (front >= 0) {
      const spread = Math.max(0, fronts.means[front + 3]! - meanSquare(fronts.means, front, nothing, 0))
      const mixed = a / (1 - a)
      const contrast = meanSquare(fronts.means, front, without, at)
      unsure += errors.beside * contrast + mixed * mixed * (errors.front + spread)
    }
    for (let c = 0; c < 3; c++) {
      const mixed = front < 0 ? 0 : a * fronts.means[front + c]!
      behind[4 * i + c] = Math.max(0, (frame[at + c]! - mixed) / (1 - a))
    }
    const filledOff = deeper * offs.means[off]!
    const likely = Math.max(filledOff, meanSquare(behind, 4 * i, without, at) - beyond * unsure)
    const share = likely / (likely + unsure)
    for (let c = 0; c < 3; c++) {
      const drawn = without[at + c]! + (behind[4 * i + c]! - without[at + c]!) * share
      // With more light than that behind them, somebody would have less than none.
      behind[4 * i + c] = Math.min(drawn, frame[at + c]! / (1 - a))
    }
    replaced[i] = share > 0 ? filledOff / (filledOff + unsure) / share : 0
  }
}

const nothing = new Float32Array(3)
/** Of the differences between two colours. */
function meanSquare(one: Float32Array, i: number, other: Float32Array, k: number): number {
  const r = one[i]! - other[k]!
  const g = one[i + 1]! - other[k + 1]!
  const b = one[i + 2]! - other[k + 2]!
  return (r * r + g * g + b * b) / 3
}

type Cells = ReturnType<typeof cellsOf>
/** Numbers gathered by the cells of a grid. */
function cellsOf(columns: number, rows: number, channels: 1 | 4, scratch: Scratch, slot: Slot) {
  const each = channels + 1
  /** By cells, with how many they are of. */
  const sums = scratch.floats(slot, each * columns * rows, true)
  /** By cells, with 1 where they are known and -1 where there is nothing to know. */
  const means = scratch.floats(slot.part('means'), each * columns * rows, true)
  const add = (cell: number, a: number, b = 0, c = 0, d = 0) => {
    const at = each * cell
    sums[at]! += a
    sums[at + channels]! += 1
    if (channels === 1) return
    sums[at + 1]! += b
    sums[at + 2]! += c
    sums[at + 3]! += d
  }
  /** Where the means of what lies around a cell are, the nearest counting most; -1 where nothing was added. */
  const around = (cell: number): number => {
    const at = each * cell
    if (means[at + channels] === 0) gather(cell)
    return means[at + channels]! > 0 ? at : -1
  }
  const gather = (cell: number) => {
    const to = each * cell
    const x = cell % columns
    const y = Math.floor(cell / columns)
    const left = Math.max(0, x - reach)
    const right = Math.min(columns - 1, x + reach)
    for (let v = Math.max(0, y - reach); v <= Math.min(rows - 1, y + reach); v++)
      for (let u = left; u <= right; u++) {
        const at = each * (v * columns + u)
        if (sums[at + channels] === 0) continue
        const weight = 1 / ((u - x) * (u - x) + (v - y) * (v - y) + 0.5)
        for (let c = 0; c < each; c++) means[to + c]! += weight * sums[at + c]!
      }
    const all = means[to + channels]!
    for (let c = 0; c < channels && all > 0; c++) means[to + c]! /= all
    means[to + channels] = all > 0 ? 1 : -1
  }
  return { add, around, means }
}
