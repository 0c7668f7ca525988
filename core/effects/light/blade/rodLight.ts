import type { Rect } from '../../../geometry/rect.ts'
import { type Scratch, Slot } from '../../../pixels/buffers/scratch.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { phi } from '../../../pixels/kernels/phi.ts'
import type { WorkingImage } from '../../effect.ts'
import { along, type ColourWay } from '../../shared/stops.ts'

const slots = {
  rodNear: new Slot(),
  rodNearHalos: new Slot(),
  rodAcross: new Slot(),
  rodAlong: new Slot(),
  rodFar: new Slot(),
  rodLevel: new Slot(),
  rodEnlargedFrom: new Slot(),
  rodCoarseLine: new Slot(),
  rodFineLine: new Slot(),
  rodNearLine: new Slot(),
}

export type Rgb = [number, number, number]

/** A rod at one moment of the open shutter: start, unit direction and length, in pixels at the working scale. */
export interface BladePose {
  x: number
  y: number
  ux: number
  uy: number
  length: number
}

export interface Halo {
  /** Pixels at the working scale. */
  sigma: number
  /** Sigma at full size: decides what is near light, so that every scale decides alike. */
  fullSigma: number
  /** Light in the middle of a long rod, at its heel. */
  light: Rgb
  /** The same on its way to the tip, where it changes. */
  way: ColourWay | null
}

/** How a rod burns; lengths in pixels at the working scale. */
export interface RodStyle {
  /** Half the width of the core, and the sigma of its soft edge. */
  half: number
  edge: number
  /** Share by which the core is thinner at its tip, and how round that is (0 cut, 1 round). */
  taper: number
  round: number
  core: Rgb
  /** A line around the core: how wide it is, and its light; 0 for none. */
  line: number
  lineLight: Rgb
  halos: Halo[]
  /** By how much the near light of a pixel changes, from where it lies along and across the rod; null for even light. */
  texture: ((along: number, across: number) => number) | null
  /** Share of the wide halos that washes over what hides the rod. */
  spill: number
  blend: 'add' | 'screen'
}

/** Beyond this many sigmas a halo adds less than a tenth of an 8-bit level. */
export const tail = 4
/** Below this sigma (full size) a halo belongs to the near light, computed at full size with the core. */
const nearSigma = 4.8

/** How often the picture is halved before a halo of this sigma (pixels at the working scale) is computed. */
const levelOf = (sigma: number): number => (sigma < 4.8 ? 0 : sigma < 9.6 ? 1 : sigma < 19.2 ? 2 : sigma < 38.4 ? 3 : 4)
const levels = 4

/** How far the farther end moves between two poses, in pixels. */
export function apart(a: BladePose, b: BladePose): number {
  return Math.max(
    Math.hypot(b.x - a.x, b.y - a.y),
    Math.hypot(b.x + b.ux * b.length - a.x - a.ux * a.length, b.y + b.uy * b.length - a.y - a.uy * a.length),
  )
}

/** The core of a rod at one moment with its narrow halos, or one of these alone: what is drawn at full size. */
export interface NearStroke extends Pick<RodStyle, 'half' | 'taper' | 'round' | 'edge' | 'core'> {
  pose: BladePose
  /** Of the rod's light. */
  share: number
  halos: Halo[]
}
/** A wide halo of a rod at one moment; `half` the width of the rod that it is of. */
export interface FarStroke {
  pose: BladePose
  share: number
  half: number
  halo: Halo
}

/** What a rod is drawn with whose light is shared by the moments of its motion (at least one). */
export function strokesOf(style: RodStyle, poses: BladePose[]): { near: NearStroke[]; far: FarStroke[] } {
  const [near, far]: [NearStroke[], FarStroke[]] = [[], []]
  const { half, taper, round, edge, core, halos, line, lineLight } = style
  const whole = { half, taper, round, edge, core }
  const nearHalos = halos.filter((h) => h.fullSigma < nearSigma)
  const share = 1 / poses.length
  for (const pose of poses) {
    // A line of light around the core is like a wider core beneath it.
    if (line > 0) near.push({ ...whole, pose, share, half: half + line, core: lineLight, halos: [] })
    const graded = nearHalos.some(isGraded)
    near.push({ ...whole, pose, share, halos: graded ? [] : nearHalos })
    if (!graded) continue
    for (const { piece, halo, width } of inPieces(style, pose, nearHalos))
      near.push({ ...whole, pose: piece, share, half: width, taper: 0, core: [0, 0, 0], halos: [halo] })
  }
  const travel =
    poses.slice(1).reduce((sum, q, i) => sum + apart(poses[i]!, q), 0) * (poses.length / Math.max(1, poses.length - 1))
  for (const h of halos) {
    if (h.fullSigma < nearSigma) continue
    // A halo needs fewer moments than the core: steps of 0.8 sigma already blend without ripples.
    const count = Math.max(1, Math.min(poses.length, Math.ceil(travel / (0.8 * h.sigma))))
    for (let i = 0; i < count; i++) {
      const pose = poses[Math.floor(((i + 0.5) * poses.length) / count)]!
      const width = half * (1 - taper / 2)
      const parts = isGraded(h) ? inPieces(style, pose, [h]) : [{ piece: pose, halo: h }]
      for (const { piece, halo } of parts) far.push({ pose: piece, halo, share: 1 / count, half: width })
    }
  }
  return { near, far }
}

/**
 * Halos whose light changes from heel to tip, piece by piece: blurred pieces laid end to end are exactly the blurred
 * whole, because the distribution functions at their ends cancel. `width`: half of the rod's at the piece.
 */
function inPieces(
  { half, taper }: RodStyle,
  pose: BladePose,
  halos: Halo[],
): { piece: BladePose; halo: Halo; width: number }[] {
  return Array.from({ length: pieces }, (_, i) => {
    const middle = (i + 0.5) / pieces
    const from = (pose.length * i) / pieces
    const piece = { ...pose, x: pose.x + pose.ux * from, y: pose.y + pose.uy * from, length: pose.length / pieces }
    return halos.map((halo) => {
      const { way } = halo
      const light = way ? ([0, 1, 2].map((c) => along(way, middle, c)) as Rgb) : halo.light
      return { piece, halo: { ...halo, light }, width: half * (1 - taper * middle) }
    })
  }).flat()
}

/** Per row the columns that hold anything, from inclusive, to exclusive; empty rows have from above to. */
class Spans {
  readonly from: Int32Array
  readonly to: Int32Array
  private readonly width: number

  constructor(width: number, height: number) {
    this.width = width
    this.from = new Int32Array(height).fill(width)
    this.to = new Int32Array(height)
  }

  widen(row: number, from: number, to: number): void {
    if (row < 0 || row >= this.from.length) return
    if (from < this.from[row]!) this.from[row] = from < 0 ? 0 : from
    if (to > this.to[row]!) this.to[row] = to > this.width ? this.width : to
  }
}

/** A reduced picture of light: RGB floats, one cell of border on every side, so that enlarging has neighbours. */
interface Level {
  data: Float32Array
  width: number
  height: number
}

/**
 * The light of burning rods over a region. The blurred profile of a rod is the product of a profile along it and one
 * across it, both Gaussian distribution functions, so no picture is ever blurred: wide halos are written straight
 * onto reduced grids, enlarged level by level and added to the narrow ones and the core at full size. The
 * variance that enlarging adds (0.1875 P^2 for cells of P pixels) is taken off before. Only rows and columns that
 * light reaches are touched.
 */
export class RodLight {
  private readonly look: RodStyle
  private readonly region: Rect
  private readonly scratch: Scratch
  private readonly levels: (Level | null)[] = []
  private readonly near: Float32Array
  /** The pose in the middle of the shutter of what was added last: what burns goes along with it. */
  private middle: BladePose | null = null
  /** Halos that count as wide at full size but need no reduction at this scale. */
  private farFull: Float32Array | null = null
  /** Columns of the region that `near` and `farFull` fill, and those that the reduced grids reach once enlarged. */
  private readonly lit: Spans
  private readonly reached: Spans
  /** Where the reduced grids begin: a multiple of their coarsest cell. */
  private readonly origin: { x: number; y: number }

  constructor(look: RodStyle, region: Rect, scratch: Scratch) {
    this.look = look
    this.region = region
    this.scratch = scratch
    this.near = scratch.cleared(slots.rodNear, region.width * region.height * 3)
    this.lit = new Spans(region.width, region.height)
    this.reached = new Spans(region.width, region.height)
    const cell = 1 << levels
    this.origin = { x: Math.floor(region.x / cell) * cell, y: Math.floor(region.y / cell) * cell }
  }

  /** Adds a rod whose light is shared by the moments of its motion. */
  add(poses: BladePose[]): void {
    if (poses.length === 0) return
    this.middle = poses[poses.length >> 1]!
    const { near, far } = strokesOf(this.look, poses)
    for (const stroke of near) this.addNear(stroke)
    for (const stroke of far) this.addFar(stroke)
  }

  /** Core and narrow halos of one pose, at full size, only on the pixels around the rod. */
  private addNear({ pose, share, half, taper, round, edge, core: light, halos }: NearStroke): void {
    const { near, region, scratch } = this
    const pad = Math.max(half + tail * edge, ...halos.map((h) => half + tail * h.sigma))
    const packed = scratch.floats(slots.rodNearHalos, 4 * halos.length)
    halos.forEach(({ sigma, light }, i) => {
      const peak = share / (2 * phi(half / sigma) - 1)
      packed.set([sigma, ...light.map((c) => c * peak)], 4 * i)
    })
    const { ux, uy, length } = pose
    const core = light.map((c) => c * share) as Rgb
    const burning = { ux, uy, length, half, taper, round, edge, core, halos: packed }
    const spread = strip(pose, pad, {
      left: region.x,
      top: region.y,
      cell: 1,
      width: region.width,
      height: region.height,
    })
    for (let row = spread.top; row < spread.bottom; row++) {
      const [from, to] = spread.span(row)
      if (from >= to) continue
      this.lit.widen(row, from, to)
      const [x, y] = [region.x + from + 0.5 - pose.x, region.y + row + 0.5 - pose.y]
      scratch.kernels.nearRow(span(near, 3 * (row * region.width + from)), to - from, x, y, burning)
    }
  }

  /** A wide halo of one pose on the grid of its level, from two tables. */
  private addFar({ pose, halo: { sigma, light }, share, half }: FarStroke): void {
    const { region, origin, scratch } = this
    const level = levelOf(sigma)
    const cell = 1 << level
    let added = 0
    for (let k = 1; k <= level; k++) added += 0.1875 * 4 ** k
    const s = Math.sqrt(sigma * sigma - added)
    const reach = half + tail * s
    // Normalised so that the strength is the light in the middle of a long rod, whatever the feather.
    const peak = share / (2 * phi(half / sigma) - 1)
    const steps = 256
    const across = scratch.floats(slots.rodAcross, steps + 2)
    for (let i = 0; i < steps + 2; i++) {
      const v = (i / steps) * reach
      across[i] = (phi((v + half) / s) - phi((v - half) / s)) * peak
    }
    const total = pose.length + 2 * tail * s
    const along = scratch.floats(slots.rodAlong, 2 * steps + 2)
    for (let i = 0; i < 2 * steps + 2; i++) {
      const u = (i / (2 * steps)) * total - tail * s
      along[i] = phi(u / s) - phi((u - pose.length) / s)
    }
    const target = level ? this.level(level) : null
    if (!level) this.farFull ??= scratch.cleared(slots.rodFar, region.width * region.height * 3)
    const data = target ? target.data : this.farFull!
    const width = target ? target.width : region.width
    const height = target ? target.height : region.height
    const left = target ? origin.x - cell : region.x
    const top = target ? origin.y - cell : region.y
    const spread = strip(pose, reach, { left: left, top: top, cell: cell, width: width, height: height })
    const vScale = steps / reach
    const uScale = (2 * steps) / total
    const table = { across, along, steps, light }
    for (let row = spread.top; row < spread.bottom; row++) {
      const [from, to] = spread.span(row)
      if (from >= to) continue
      if (level) this.reach(row, from, to, cell, left, top)
      else this.lit.widen(row, from, to)
      const x = left + (from + 0.5) * cell - pose.x
      const y = top + (row + 0.5) * cell - pose.y
      const v = (y * pose.ux - x * pose.uy) * vScale
      const u = (x * pose.ux + y * pose.uy + tail * s) * uScale
      const [vStep, uStep] = [-pose.uy * cell * vScale, pose.ux * cell * uScale]
      scratch.kernels.farRow(span(data, 3 * (row * width + from)), to - from, { v, vStep, u, uStep }, table)
    }
  }

  /** Notes the pixels that cells from..to of a grid's row reach: enlarging spreads each over two cells around it. */
  private reach(row: number, from: number, to: number, cell: number, left: number, top: number): void {
    const { region, reached } = this
    const first = top + (row - 2) * cell - region.y
    const a = left + (from - 2) * cell - region.x
    const b = left + (to + 2) * cell - region.x
    for (let y = first; y < first + 5 * cell; y++) reached.widen(y, a, b)
  }

  private level(k: number): Level {
    const known = this.levels[k]
    if (known) return known
    const cell = 1 << k
    const block = 1 << levels
    const span = (start: number, from: number, size: number) =>
      Math.ceil((start + size - from) / block) * (block / cell) + 2
    const width = span(this.region.x, this.origin.x, this.region.width)
    const height = span(this.region.y, this.origin.y, this.region.height)
    const level = { data: this.scratch.floats(slots.rodLevel.part(k), width * height * 3, true), width, height }
    this.levels[k] = level
    return level
  }

  /** Enlarges from the coarsest level down to half size, adding what lies on each level on the way. */
  private gather(): Level | null {
    let coarsest = levels
    while (coarsest > 0 && !this.levels[coarsest]) coarsest--
    if (coarsest === 0) return null
    for (let k = coarsest; k > 1; k--) this.enlarge(this.level(k), this.level(k - 1), 1 << (k - 1))
    return this.level(1)
  }

  /** Adds `coarse`, enlarged by 2 with weights 3/4 and 1/4, to `fine`, whose cells are `cell` pixels wide. */
  private enlarge(coarse: Level, fine: Level, cell: number): void {
    const { region, origin, reached } = this
    const line = this.scratch.floats(slots.rodEnlargedFrom, coarse.width * 3)
    const { kernels } = this.scratch
    for (let y = 0; y < fine.height; y++) {
      let from = region.width
      let to = 0
      const first = origin.y + (y - 1) * cell - region.y
      // A row of cells is needed where any row of the region that it touches is reached.
      for (let row = Math.max(0, first - cell); row < Math.min(region.height, first + 2 * cell); row++) {
        if (reached.from[row]! < from) from = reached.from[row]!
        if (reached.to[row]! > to) to = reached.to[row]!
      }
      if (from >= to) continue
      // Columns of the fine grid, an even start so that pairs begin on it.
      const left = Math.max(0, Math.floor((from + region.x - origin.x) / cell) - 1) & ~1
      const right = Math.min(fine.width & ~1, (Math.ceil((to + region.x - origin.x) / cell) + 4) & ~1)
      const a = (y >> 1) * coarse.width * 3
      const b = Math.min(coarse.height - 1, (y >> 1) + 1) * coarse.width * 3
      const [start, end] = [3 * (left >> 1), Math.min(coarse.width * 3, 3 * ((right >> 1) + 3))]
      kernels.mixLines(coarse.data, [a, b], y & 1 ? 0.75 : 0.25, line, start, end)
      kernels.addEnlargedLine(span(line, start), span(fine.data, 3 * (y * fine.width + left)), (right - left) >> 1)
    }
  }

  /** Lets the near light of a row burn unevenly. */
  private burn(line: Float32Array, from: number, row: number, count: number): void {
    const { texture } = this.look
    const { middle, region } = this
    if (!texture || !middle) return
    for (let i = 0, at = 0; i < count; i++, at += 3) {
      if (line[at] === 0 && line[at + 1] === 0 && line[at + 2] === 0) continue
      const [x, y] = [region.x + from + i + 0.5 - middle.x, region.y + row + 0.5 - middle.y]
      const gain = texture(x * middle.ux + y * middle.uy, y * middle.ux - x * middle.uy)
      line[at]! *= gain
      line[at + 1]! *= gain
      line[at + 2]! *= gain
    }
  }

  /** Row by row: far light enlarged into a line, what hides it taken off, near light added, and all laid on. */
  layOn({ data, region, holdout }: WorkingImage): void {
    const far = this.gather()
    const { near, farFull, lit, reached, origin, scratch } = this
    const { kernels } = scratch
    const coarseLine = scratch.floats(slots.rodCoarseLine, far ? far.width * 3 : 0)
    // One pair of pixels more than the region holds, so that an odd start needs no case of its own.
    const fine = scratch.floats(slots.rodFineLine, region.width * 3 + 12)
    const nearLine = scratch.floats(slots.rodNearLine, region.width * 3 + 12)
    const layLine = this.look.blend === 'screen' ? kernels.screenLine : kernels.addLine
    for (let row = 0; row < region.height; row++) {
      const nearFrom = lit.from[row]!
      const nearTo = lit.to[row]!
      const from = far ? Math.min(nearFrom, reached.from[row]!) : nearFrom
      const to = far ? Math.max(nearTo, reached.to[row]!) : nearTo
      if (from >= to) continue
      const width = to - from
      if (far) {
        const fy = region.y - origin.y + row
        const fx = region.x - origin.x + from
        const a = ((fy + 1) >> 1) * far.width * 3
        const start = 3 * ((fx + 1) >> 1)
        const end = Math.min(far.width * 3, start + 3 * ((width >> 1) + 3))
        kernels.mixLines(far.data, [a, a + far.width * 3], fy & 1 ? 0.25 : 0.75, coarseLine, start, end)
        kernels.enlargeLine(span(coarseLine, start), (end - start) / 3, span(fine, fx & 1 ? 3 : 0), width)
      } else fine.fill(0, 0, 3 * width + 3)
      // The line itself begins at 3: an odd start writes one pixel before it.
      const start = row * region.width
      const nearAt = 3 + 3 * (nearFrom - from)
      const nearCount = 3 * (nearTo - nearFrom)
      if (farFull && nearCount > 0)
        kernels.moveNumbers(span(farFull, 3 * (start + nearFrom)), span(fine, nearAt), nearCount)
      if (holdout) kernels.hideLine(span(fine, 3), span(holdout, start + from), 1 - this.look.spill, width)
      if (nearCount > 0) {
        if (holdout || this.look.texture) {
          nearLine.fill(0, 0, nearCount)
          kernels.moveNumbers(span(near, 3 * (start + nearFrom)), span(nearLine), nearCount)
          this.burn(nearLine, nearFrom, row, nearTo - nearFrom)
          if (holdout) kernels.hideLine(span(nearLine), span(holdout, start + nearFrom), 1, nearTo - nearFrom)
          kernels.addNumbers(span(nearLine), span(fine, nearAt), nearCount)
        } else kernels.moveNumbers(span(near, 3 * (start + nearFrom)), span(fine, nearAt), nearCount)
      }
      layLine(span(fine, 3), span(data, 4 * (start + from)), width)
    }
  }
}

/** Pieces of a rod whose halos change their colour along it. */
const pieces = 12
const isGraded = ({ way }: Halo): boolean => way !== null

/** A grid of cells so many pixels wide, and where it begins. */
interface Cells {
  left: number
  top: number
  cell: number
  width: number
  height: number
}

/** Rows and per row the columns of a grid that lie within `pad` pixels of the rod. */
function strip(pose: BladePose, pad: number, { left, top, cell, width, height }: Cells) {
  const ex = pose.x + pose.ux * pose.length
  const ey = pose.y + pose.uy * pose.length
  const first = Math.max(0, Math.floor((Math.min(pose.y, ey) - pad - top) / cell))
  const last = Math.min(height, Math.ceil((Math.max(pose.y, ey) + pad - top) / cell) + 1)
  const box = [Math.min(pose.x, ex) - pad, Math.max(pose.x, ex) + pad] as const
  const span = (row: number): [number, number] => {
    const y = top + (row + 0.5) * cell - pose.y
    let [from, to] = box
    // |y ux - x uy| <= pad, and -pad <= x ux + y uy <= length + pad, each an interval of x.
    if (Math.abs(pose.uy) > 1e-6) {
      const middle = (y * pose.ux) / pose.uy
      const reach = pad / Math.abs(pose.uy)
      from = Math.max(from, pose.x + middle - reach)
      to = Math.min(to, pose.x + middle + reach)
    }
    if (Math.abs(pose.ux) > 1e-6) {
      const a = (-pad - y * pose.uy) / pose.ux
      const b = (pose.length + pad - y * pose.uy) / pose.ux
      from = Math.max(from, pose.x + Math.min(a, b))
      to = Math.min(to, pose.x + Math.max(a, b))
    }
    return [Math.max(0, Math.floor((from - left) / cell)), Math.min(width, Math.ceil((to - left) / cell))]
  }
  return { top: first, bottom: last, span }
}
