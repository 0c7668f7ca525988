import { type Field, fieldNumbers } from '../tracking/background.ts'
import { ColourTable, mixtureOf } from './colours.ts'
import type { Grid } from './grid.ts'
import { minimumCut } from './minCut.ts'

/*
 * Which pixels of a frame are wanted. What both sides look like is learned from the strokes: their colours, and how
 * often they differ from the backdrop. The division is the one that costs least where parting two alike neighbours
 * costs much: Boykov and Jolly, "Interactive Graph Cuts" (ICCV 2001); the looks are learned anew from what was found,
 * as in Rother, Kolmogorov and Blake, "GrabCut" (SIGGRAPH 2004).
 */

/** What the strokes say of a pixel. */
export const unsaid = 0
export const saidWanted = 1
export const saidUnwanted = 2

/** What both sides look like, learned from one or several frames. */
export interface Looks {
  wanted: ColourTable
  unwanted: ColourTable
  /** Share of each side that shows the backdrop's own colours there: nearly all of what is unwanted, none of what moves. */
  wantedStill: number
  unwantedStill: number
}

/** Numbers of a sample: the colour, and its likelihood in the backdrop (NaN where that is not known). */
const perSample = 4

/** Samples of both sides, gathered over frames. */
export class Samples {
  private readonly kept: [Float32Array[], Float32Array[]] = [[], []]

  copy(): Samples {
    const other = new Samples()
    for (const side of [0, 1] as const) other.kept[side].push(...this.kept[side])
    return other
  }

  /** Takes in the pixels of a grid that a side is known of: `label` 1 wanted, 0 unwanted, anything else is left out. */
  add(grid: Grid, label: ArrayLike<number>, still: Float32Array | null): void {
    for (const side of [0, 1] as const) {
      let known = 0
      for (let i = 0; i < label.length; i++) if (label[i] === side) known++
      const count = Math.min(known, mostSamples)
      const out = new Float32Array(perSample * count)
      // Evenly spread: the nth of all that are known.
      for (let i = 0, seen = 0, taken = 0; i < label.length && taken < count; i++) {
        if (label[i] !== side) continue
        if (Math.floor((seen * count) / known) === taken) {
          const to = perSample * taken++
          out[to] = grid.luma[i]!
          out[to + 1] = grid.u[i]!
          out[to + 2] = grid.v[i]!
          out[to + 3] = still ? still[i]! : NaN
        }
        seen++
      }
      this.kept[side].push(out)
    }
  }

  /** Null while one side has next to no pixels. */
  looks(): Looks | null {
    const [unwanted, wanted] = this.kept.map(joined) as [Float32Array, Float32Array]
    const [other, own] = [tableOf(unwanted), tableOf(wanted)]
    if (!own || !other) return null
    return {
      ...{ wanted: own, unwanted: other },
      wantedStill: stillShare(wanted, own),
      unwantedStill: stillShare(unwanted, other),
    }
  }
}

/** Samples that a frame gives of each side at most: all frames count alike. */
const mostSamples = 4000

function joined(pieces: readonly Float32Array[]): Float32Array {
  const out = new Float32Array(pieces.reduce((sum, piece) => sum + piece.length, 0))
  let at = 0
  for (const piece of pieces) {
    out.set(piece, at)
    at += piece.length
  }
  return out
}

function tableOf(samples: Float32Array): ColourTable | null {
  const colours = new Float32Array((samples.length / perSample) * 3)
  for (let from = 0, to = 0; from < samples.length; from += perSample, to += 3) {
    colours[to] = samples[from]!
    colours[to + 1] = samples[from + 1]!
    colours[to + 2] = samples[from + 2]!
  }
  const mixture = mixtureOf(colours)
  return mixture && new ColourTable(mixture)
}

/** Share of samples that come from the backdrop and not from the side's own colours, by expectation maximisation. */
function stillShare(samples: Float32Array, table: ColourTable): number {
  let share = 0.5
  for (let turn = 0; turn < 8; turn++) {
    let [sum, count] = [0, 0]
    for (let i = 0; i < samples.length; i += perSample) {
      const still = samples[i + 3]!
      if (still !== still) continue
      const from = share * still
      sum += from / (from + (1 - share) * table.at(samples[i]!, samples[i + 1]!, samples[i + 2]!))
      count++
    }
    if (count < 30) return 0.5
    share = sum / count
  }
  // Nothing is never seen because it was not seen among these.
  return Math.max(0.005, Math.min(0.995, share))
}

/** How likely each pixel of the grid is in the backdrop's own colours there; NaN where nothing is known of it. */
export function stillness(grid: Grid, field: Field): Float32Array {
  const out = new Float32Array(grid.width * grid.height).fill(NaN)
  const by = grid.step / 2
  const { data } = field
  for (let j = 0; j < grid.height; j++)
    for (let i = 0; i < grid.width; i++) {
      const x = Math.floor((grid.x + i + 0.5) * by) - field.x
      const y = Math.floor((grid.y + j + 0.5) * by) - field.y
      if (x < 0 || y < 0 || x >= field.width || y >= field.height) continue
      const at = (y * field.width + x) * fieldNumbers
      if (data[at + 7] === 0) continue
      const spread = data[at + 6]!
      const d = (data[at]! ** 2 + 2 * (data[at + 1]! ** 2 + data[at + 2]! ** 2)) / spread
      // A Gaussian whose colour differences vary half as much (in variance) as the brightness.
      out[j * grid.width + i] = (2 * Math.exp(-0.5 * d)) / (2 * Math.PI * spread) ** 1.5
    }
  return out
}

/** What of a frame is divided, and what is known beforehand. */
export interface Division {
  grid: Grid
  looks: Looks
  /** {@link stillness} of the grid; null without a backdrop. */
  still: Float32Array | null
  /** What strokes say: {@link unsaid}, {@link saidWanted} or {@link saidUnwanted} a pixel. */
  said: Uint8Array
  /** Logarithm of how much likelier a pixel is wanted by where the matte was before; null for nothing known. */
  before: Float32Array | null
}

/** Cost of parting two neighbours that look the same, against odds as logarithms. */
const parting = 5
/** Odds that the looks have at most: none is sure by itself. */
const mostOdds = 5
const held = 1e4

/** 1 for each wanted pixel of the grid. */
export function divided({ grid, looks, still, said, before }: Division): Uint8Array {
  const { width, height } = grid
  const size = width * height
  const far = new Float32Array(size)
  const near = new Float32Array(size)
  const telling = 0.8 * Math.max(0, looks.unwantedStill - looks.wantedStill)
  for (let i = 0; i < size; i++) {
    let own = looks.wanted.at(grid.luma[i]!, grid.u[i]!, grid.v[i]!)
    let other = looks.unwanted.at(grid.luma[i]!, grid.u[i]!, grid.v[i]!)
    const rest = still ? still[i]! : NaN
    if (rest === rest) {
      own += looks.wantedStill * (rest - own)
      other += looks.unwantedStill * (rest - other)
    }
    let odds = Math.max(-mostOdds, Math.min(mostOdds, Math.log(own / other)))
    // Where moving tells the sides apart, what was there before counts less: a limb that comes out is new.
    if (before) odds += before[i]! * (rest === rest ? 1 - telling : 1)
    far[i] = Math.max(0, odds)
    near[i] = Math.max(0, -odds)
    if (said[i] === saidWanted) [far[i], near[i]] = [held, 0]
    else if (said[i] === saidUnwanted) [far[i], near[i]] = [0, held]
  }
  return minimumCut({ width, height, far, near, ...partings(grid) })
}

function partings(grid: Grid) {
  const { width, height, luma, u, v } = grid
  const size = width * height
  const apart = (i: number, j: number) => (luma[i]! - luma[j]!) ** 2 + 2 * ((u[i]! - u[j]!) ** 2 + (v[i]! - v[j]!) ** 2)
  let [sum, count] = [0, 0]
  for (let j = 0; j < height - 1; j += 2)
    for (let i = 0; i < width - 1; i += 2) {
      const at = j * width + i
      sum += apart(at, at + 1) + apart(at, at + width)
      count += 2
    }
  // Twice the mean difference of neighbours; grain alone is no edge.
  const mean = Math.max(8, sum / Math.max(1, count))
  const cost = (i: number, j: number, far: number) =>
    (parting * (0.05 + 0.95 * Math.exp(-apart(i, j) / (2 * mean)))) / far
  const out = {
    right: new Float32Array(size),
    down: new Float32Array(size),
    downRight: new Float32Array(size),
    downLeft: new Float32Array(size),
  }
  for (let j = 0; j < height; j++)
    for (let i = 0; i < width; i++) {
      const at = j * width + i
      if (i + 1 < width) out.right[at] = cost(at, at + 1, 1)
      if (j + 1 >= height) continue
      out.down[at] = cost(at, at + width, 1)
      if (i + 1 < width) out.downRight[at] = cost(at, at + width + 1, Math.SQRT2)
      if (i > 0) out.downLeft[at] = cost(at, at + width - 1, Math.SQRT2)
    }
  return out
}

/** Leaves of the wanted pixels those areas (joined by sides and corners) that hold a pixel which `keeps` says yes to. */
export function keptAreas(label: Uint8Array, width: number, keeps: (index: number) => boolean): void {
  for (const area of areasOf(label, width)) if (!area.some(keeps)) for (const at of area) label[at] = 0
}

/** Leaves the largest area alone; returns its pixels' number. */
export function keptLargest(label: Uint8Array, width: number): number {
  let largest: readonly number[] = []
  for (const area of areasOf(label, width)) if (area.length > largest.length) largest = area
  label.fill(0)
  for (const at of largest) label[at] = 1
  return largest.length
}

/** Wanted pixels that hang together by sides and corners. */
function areasOf(label: Uint8Array, width: number): number[][] {
  const seen = new Uint8Array(label.length)
  const height = label.length / width
  const out: number[][] = []
  for (let start = 0; start < label.length; start++) {
    if (!label[start] || seen[start]) continue
    const area = [start]
    seen[start] = 1
    for (let k = 0; k < area.length; k++) {
      const at = area[k]!
      const [x, y] = [at % width, Math.floor(at / width)]
      for (let j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++)
        for (let i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++) {
          const to = j * width + i
          if (!label[to] || seen[to]) continue
          seen[to] = 1
          area.push(to)
        }
    }
    out.push(area)
  }
  return out
}
