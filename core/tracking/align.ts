import { solveSymmetric } from '../geometry/linear.ts'
import { composed, inverseOf, mapped, type Projective } from '../geometry/projective.ts'
import { boundsOf, type Rect } from '../geometry/rect.ts'
import { coverPolygon } from '../matte/coverage.ts'
import { type FollowPicture, type Piece, pieceOf } from './frame.ts'

/*
 * Alignment of a region to its reference: the inverse compositional Gauss-Newton method of Baker and Matthews,
 * Lucas-Kanade 20 Years On (2004), with a gain and an offset for changes of light, Tukey's weights against what covers
 * the region, from coarse to fine. The reference stays the frame of a hand key, so errors do not add up.
 */

/** How a region may move, from the stiffest on. */
export const motionModels = ['translation', 'rigid', 'similarity', 'affine', 'homography'] as const
export type MotionModel = (typeof motionModels)[number]
const unknowns: Record<MotionModel, number> = { translation: 2, rigid: 3, similarity: 4, affine: 6, homography: 8 }

/** What the picture says of an alignment. */
export interface Fit {
  /** Where places of the reference frame lie now, in plate pixels. */
  map: Projective
  /** Correlation of the region with its reference, -1 to 1, over what is seen of it. */
  correlation: number
  /** Share of the region that is seen: within the picture and not covered. */
  visible: number
  /** Share of what is seen that agrees with the reference within the noise. */
  agreeing: number
  /** Standard error of the region's edge in plate pixels, as far as noise alone goes. */
  standardError: number
  /** Brightness now is gain times that of the reference, plus offset. */
  light: Light
  /** Robust sum of squares in noise variances, and over how many pixels: what models are compared by. */
  cost: number
  count: number
}

/** The region on one level of the pyramid: its pixels in coordinates of its own, their value and slope. */
interface Level {
  step: number
  level: number
  x: Float32Array
  y: Float32Array
  value: Float32Array
  /** Change of the value per unit of the region's own coordinates. */
  gx: Float32Array
  gy: Float32Array
  /** See {@link rowsOf}; made when first asked for. */
  rows: Map<MotionModel, Float32Array>
}

/** Pixels of a region that an alignment reads at most on each level. */
const mostPixels = 3000
/** Levels of brightness that grain and coding move a softened pixel by, at least. */
const leastNoise = 1.5
/** Tukey's constant: 95 per cent efficient where there is nothing but noise. */
const tukey = 4.685

/** A region as it was on one frame: what is looked for on others. */
export class Patch {
  /** Middle and half extent of the region, which its own coordinates count in. */
  readonly cx: number
  readonly cy: number
  readonly size: number
  /** Smaller side of the region in plate pixels. */
  readonly least: number
  /** From coarse to fine. */
  readonly levels: Level[] = []

  /**
   * `polygon`: the region (flat list in plate pixels), `margin` how far beyond its edge the picture counts; `covered`:
   * polygons of what lies over it on this frame.
   */
  constructor(picture: FollowPicture, polygon: readonly number[], margin: number, covered: readonly number[][]) {
    const box = boundsOf(polygon, margin)
    this.cx = box.x + box.width / 2
    this.cy = box.y + box.height / 2
    this.size = Math.max(4, Math.max(box.width, box.height) / 2)
    this.least = Math.min(box.width, box.height)
    const finest = box.width * box.height > 300_000 ? 2 : box.width * box.height > 60_000 ? 1 : 0
    let coarsest = finest
    while (coarsest < 4 && this.least >> (coarsest + 1) >= 9) coarsest++
    for (let level = coarsest; level >= finest; level--) {
      const one = this.levelOf(picture, polygon, margin, covered, level, finest)
      if (one) this.levels.push(one)
    }
  }

  /** Pixels that the finest level reads; too few of them can not be followed. */
  get pixels(): number {
    return this.levels.at(-1)?.x.length ?? 0
  }

  private levelOf(
    picture: FollowPicture,
    polygon: readonly number[],
    margin: number,
    covered: readonly number[][],
    level: number,
    finest: number,
  ): Level | null {
    const piece = pieceOf(picture, boundsOf(polygon, margin + (2 << level)), level)
    if (!piece) return null
    const inside = maskOf(piece, [[...polygon]], margin)
    const hidden = covered.length ? maskOf(piece, covered, besideCover) : null
    const { width, height, data, step } = piece
    let area = 0
    for (const one of inside) area += one
    const stride = Math.max(1, Math.ceil(Math.sqrt(area / (level === finest ? mostPixels : mostPixels / 4))))
    const [x, y, value, gx, gy] = [[], [], [], [], []] as [number[], number[], number[], number[], number[]]
    const slope = this.size / (2 * step)
    for (let j = 1; j + 1 < height; j += stride)
      for (let i = 1 + (j % 2 && stride > 1 ? stride >> 1 : 0); i + 1 < width; i += stride) {
        const at = j * width + i
        if (!inside[at] || hidden?.[at]) continue
        x.push((piece.x + (i + 0.5) * step - this.cx) / this.size)
        y.push((piece.y + (j + 0.5) * step - this.cy) / this.size)
        value.push(data[at]!)
        gx.push((data[at + 1]! - data[at - 1]!) * slope)
        gy.push((data[at + width]! - data[at - width]!) * slope)
      }
    if (x.length < 12) return null
    const own = (list: number[]) => Float32Array.from(list)
    return { step, level, x: own(x), y: own(y), value: own(value), gx: own(gx), gy: own(gy), rows: new Map() }
  }

  /** From the region's own coordinates to plate pixels of its frame. */
  private get frame(): Projective {
    return [this.size, 0, this.cx, 0, this.size, this.cy, 0, 0, 1]
  }
  private get unframe(): Projective {
    const s = 1 / this.size
    return [s, 0, -this.cx * s, 0, s, -this.cy * s, 0, 0, 1]
  }

  /**
   * Where the region lies on another picture. `start`: where it is looked for first; `search`: how many plate pixels it
   * may lie off that; `covered`: polygons of what lies over it there. Null where too little of it is seen.
   */
  find(
    picture: FollowPicture,
    start: Projective,
    model: MotionModel,
    search: number,
    covered: readonly number[][] = [],
  ): Fit | null {
    let local = composed(start, this.frame)
    let light: Light = { gain: 1, offset: 0 }
    let fit: Fit | null = null
    // Where the start is known the two finest levels are enough.
    const first = search > 0 ? 0 : Math.max(0, this.levels.length - 2)
    for (let k = first; k < this.levels.length; k++) {
      const level = this.levels[k]!
      const last = k === this.levels.length - 1
      const room = k === 0 ? search + 2 * level.step : 8 * level.step
      const target = this.target(picture, local, level, room, covered)
      if (!target) return null
      if (k === first) {
        if (search > 0) local = searched(level, target, local, search)
        light = gainOffset(level, target, local)
      }
      // Coarse levels say where, not how: they may not bend what they can not resolve.
      const own = last ? model : stiffer(model, k === 0 ? 'rigid' : 'affine')
      const done = refined(level, target, local, own, light, last ? 16 : 6)
      if (!done) return null
      local = done.local
      light = done.light
      if (last) fit = { ...done, map: composed(local, this.unframe), standardError: done.standardError * this.size }
    }
    return fit
  }

  private target(
    picture: FollowPicture,
    local: Projective,
    { level, step }: Level,
    room: number,
    covered: readonly number[][],
  ): Target | null {
    const corners = [-1, -1, 1, -1, 1, 1, -1, 1]
    const places: number[] = []
    for (let i = 0; i < 8; i += 2) places.push(...mapped(local, corners[i]!, corners[i + 1]!))
    if (places.some((v) => !(Math.abs(v) < 1e5))) return null
    const box: Rect = boundsOf(places, room + 2 * step)
    const piece = pieceOf(picture, box, level)
    if (!piece) return null
    return { ...piece, hidden: covered.length ? maskOf(piece, covered, besideCover) : null }
  }
}

/** Plate pixels around what covers the region in which the picture is not to be trusted either. */
const besideCover = 4

type Target = Piece & { hidden: Uint8Array | null }
export interface Light {
  gain: number
  offset: number
}

const stiffer = (a: MotionModel, b: MotionModel): MotionModel =>
  motionModels.indexOf(a) < motionModels.indexOf(b) ? a : b

/** Which pixels of a piece lie in one of the polygons or at most `grow` plate pixels outside: 1 or 0 each. */
function maskOf(piece: Piece, polygons: readonly number[][], grow: number): Uint8Array {
  const { width, height, x, y, step } = piece
  const region = { x: 0, y: 0, width, height }
  const out = new Uint8Array(width * height)
  const cover = new Float32Array(width * height)
  for (const polygon of polygons) {
    coverPolygon(
      polygon.map((v, i) => (v - (i % 2 ? y : x)) / step),
      region,
      cover,
    )
    for (let i = 0; i < out.length; i++) if (cover[i]! > 0.5) out[i] = 1
  }
  const reach = Math.round(grow / step)
  for (let k = 0; k < reach; k++) widen(out, width, height)
  return out
}

/** Everything beside a set pixel is set too. */
function widen(mask: Uint8Array, width: number, height: number): void {
  const before = mask.slice()
  for (let y = 0; y < height; y++)
    for (let x = 0, at = y * width; x < width; x++, at++)
      if (
        !before[at] &&
        ((x && before[at - 1]) ||
          (x + 1 < width && before[at + 1]) ||
          (y && before[at - width]) ||
          (y + 1 < height && before[at + width]))
      )
        mask[at] = 1
}

/** Steps of the coarsest level that are searched to each side at most. */
const farthest = 12

/** The whole steps off `local` at which the region looks most like its reference (correlation, few pixels are enough). */
function searched(level: Level, target: Target, local: Projective, search: number): Projective {
  const { x, y, value, step } = level
  const every = Math.max(1, Math.floor(x.length / 400))
  const reach = Math.min(farthest, Math.ceil(search / step))
  const [px, py, t] = [[], [], []] as [number[], number[], number[]]
  for (let i = 0; i < x.length; i += every) {
    const [ax, ay] = mapped(local, x[i]!, y[i]!)
    px.push(Math.round((ax - target.x) / step - 0.5))
    py.push(Math.round((ay - target.y) / step - 0.5))
    t.push(value[i]!)
  }
  let best = { dx: 0, dy: 0, score: -Infinity }
  for (let dy = -reach; dy <= reach; dy++)
    for (let dx = -reach; dx <= reach; dx++) {
      let [n, st, si, stt, sii, sti] = [0, 0, 0, 0, 0, 0]
      for (let i = 0; i < t.length; i++) {
        const [qx, qy] = [px[i]! + dx, py[i]! + dy]
        if (qx < 0 || qy < 0 || qx >= target.width || qy >= target.height) continue
        const at = qy * target.width + qx
        if (target.hidden?.[at]) continue
        const [a, b] = [t[i]!, target.data[at]!]
        n++
        st += a
        si += b
        stt += a * a
        sii += b * b
        sti += a * b
      }
      if (n < t.length / 3) continue
      const vt = stt / n - (st / n) ** 2
      const vi = sii / n - (si / n) ** 2
      const correlation = (sti / n - (st * si) / (n * n)) / Math.sqrt((vt + 4) * (vi + 4))
      // Of places that look the same the one nearest to where it is expected; a part out of sight is no gain.
      const far = reach ? Math.hypot(dx, dy) / reach : 0
      const score = correlation - 0.12 * far * far - 0.2 * (1 - n / t.length)
      if (score > best.score) best = { dx, dy, score }
    }
  return composed([1, 0, best.dx * step, 0, 1, best.dy * step, 0, 0, 1], local)
}

/** Gain and offset of the light, by means and deviations. */
function gainOffset(level: Level, target: Target, local: Projective): Light {
  const values = new Float32Array(level.x.length)
  const n = sample(level, target, local, values)
  if (n < 8) return { gain: 1, offset: 0 }
  let [st, si, stt, sii] = [0, 0, 0, 0]
  for (let i = 0; i < values.length; i++) {
    const v = values[i]!
    if (v !== v) continue
    const t = level.value[i]!
    st += t
    si += v
    stt += t * t
    sii += v * v
  }
  const vt = Math.max(1, stt / n - (st / n) ** 2)
  const vi = Math.max(1, sii / n - (si / n) ** 2)
  const gain = Math.max(0.5, Math.min(2, Math.sqrt(vi / vt)))
  return { gain, offset: si / n - (gain * st) / n }
}

interface Refined extends Omit<Fit, 'map'> {
  local: Projective
}

function refined(
  level: Level,
  target: Target,
  start: Projective,
  model: MotionModel,
  startLight: Light,
  rounds: number,
): Refined | null {
  const { x, value } = level
  const n = x.length
  const free = unknowns[model]
  const all = free + 2
  const rows = rowsOf(level, model)
  const values = new Float32Array(n)
  const residual = new Float32Array(n)
  const normal = new Float64Array(all * all)
  const right = new Float64Array(all)
  let local = start
  let { gain, offset } = startLight
  let sigma: number
  for (let round = 0; ; round++) {
    const visible = sample(level, target, local, values)
    if (visible < Math.max(12, n / 6)) return null
    for (let i = 0; i < n; i++) residual[i] = values[i]! - gain * value[i]! - offset
    sigma = Math.max(leastNoise, 1.4826 * medianOfSizes(residual))
    if (round === rounds) break
    const weights = accumulated(rows, residual, tukey * sigma, all, normal, right)
    for (let j = 0; j < all; j++) {
      // A little stiffness: what the picture says nothing about stays as it is.
      normal[j * all + j]! += 1e-4 * normal[j * all + j]! + 1e-3 * weights
      for (let k = 0; k < j; k++) normal[k * all + j] = normal[j * all + k]!
    }
    if (!solveSymmetric(normal, right, all)) return null
    // The rows are those of the reference; the picture's slopes are larger by the gain.
    for (let j = 0; j < free; j++) right[j]! /= gain
    const back = inverseOf(stepOf(model, right))
    if (!back) return null
    local = composed(local, back)
    gain = Math.max(0.2, Math.min(5, gain + right[free]! / 64))
    offset += right[free + 1]!
    let most = 0
    for (let j = 0; j < free; j++) most = Math.max(most, Math.abs(right[j]!))
    const unit = Math.hypot(local[0], local[3])
    if (!(unit > 0) || !local.every(Number.isFinite)) return null
    // One more look at the residuals, then done: the step was a small part of a pixel of this level.
    if (most * unit < 0.005 * level.step) rounds = round + 1
  }
  return { local, light: { gain, offset }, ...judged(level, residual, sigma, gain, offset, model) }
}

/** Weighted normal equations of the residuals within `limit` (Tukey's weights); returns the sum of the weights. */
function accumulated(
  rows: Float32Array,
  residual: Float32Array,
  limit: number,
  all: number,
  normal: Float64Array,
  right: Float64Array,
): number {
  normal.fill(0)
  right.fill(0)
  let weights = 0
  for (let i = 0, at = 0; i < residual.length; i++, at += all) {
    const r = residual[i]!
    // NaN fails this too.
    if (!(r < limit && r > -limit)) continue
    const u = r / limit
    const weight = (1 - u * u) * (1 - u * u)
    weights += weight
    for (let j = 0; j < all; j++) {
      const wj = weight * rows[at + j]!
      right[j]! += wj * r
      const to = j * all
      for (let k = 0; k <= j; k++) normal[to + k]! += wj * rows[at + k]!
    }
  }
  return weights
}

/** Values where the places of the region lie, between four pixels each; NaN beyond the piece or under cover. Counts them. */
function sample(level: Level, target: Target, local: Projective, values: Float32Array): number {
  const { x, y } = level
  const { width, height, data, hidden, step } = target
  const [a, b, c, d, e, f, g, h, i] = local
  const [left, top] = [target.x / step + 0.5, target.y / step + 0.5]
  const [lastX, lastY] = [width - 1, height - 1]
  let visible = 0
  for (let k = 0; k < x.length; k++) {
    const [qx, qy] = [x[k]!, y[k]!]
    const w = 1 / ((g * qx + h * qy + i) * step)
    const px = (a * qx + b * qy + c) * w - left
    const py = (d * qx + e * qy + f) * w - top
    values[k] = NaN
    if (!(px >= 0 && py >= 0 && px < lastX && py < lastY)) continue
    const [ix, iy] = [px | 0, py | 0]
    const at = iy * width + ix
    if (hidden !== null && hidden[at]) continue
    const [u, v] = [px - ix, py - iy]
    const upper = data[at]! + (data[at + 1]! - data[at]!) * u
    const lower = data[at + width]! + (data[at + width + 1]! - data[at + width]!) * u
    values[k] = upper + (lower - upper) * v
    visible++
  }
  return visible
}

/** Slopes of the region's value by every unknown, by the gain and by the offset: a row for each pixel. */
function rowsOf(level: Level, model: MotionModel): Float32Array {
  let rows = level.rows.get(model)
  if (rows) return rows
  const { x, y, value, gx, gy } = level
  const free = unknowns[model]
  const all = free + 2
  rows = new Float32Array(x.length * all)
  const row = new Float64Array(all)
  for (let i = 0; i < x.length; i++) {
    jacobian(row, model, x[i]!, y[i]!, gx[i]!, gy[i]!)
    row[free] = value[i]! / 64
    row[free + 1] = 1
    rows.set(row, i * all)
  }
  level.rows.set(model, rows)
  return rows
}

/** Slope of the region's value by each unknown of the model, in the region's own coordinates. */
function jacobian(row: Float64Array, model: MotionModel, x: number, y: number, gx: number, gy: number): void {
  row[0] = gx
  row[1] = gy
  switch (model) {
    case 'translation':
      return
    case 'rigid':
      row[2] = x * gy - y * gx
      return
    case 'similarity':
      row[2] = x * gy - y * gx
      row[3] = x * gx + y * gy
      return
    case 'homography': {
      const along = x * gx + y * gy
      row[6] = -x * along
      row[7] = -y * along
    }
    // falls through: perspective is affine and more
    case 'affine':
      row[2] = x * gx
      row[3] = y * gx
      row[4] = x * gy
      row[5] = y * gy
  }
}

/** The small motion that the unknowns stand for. */
function stepOf(model: MotionModel, p: Float64Array): Projective {
  const [tx, ty] = [p[0]!, p[1]!]
  switch (model) {
    case 'translation':
      return [1, 0, tx, 0, 1, ty, 0, 0, 1]
    case 'rigid': {
      const [cos, sin] = [Math.cos(p[2]!), Math.sin(p[2]!)]
      return [cos, -sin, tx, sin, cos, ty, 0, 0, 1]
    }
    case 'similarity':
      return [1 + p[3]!, -p[2]!, tx, p[2]!, 1 + p[3]!, ty, 0, 0, 1]
    case 'affine':
      return [1 + p[2]!, p[3]!, tx, p[4]!, 1 + p[5]!, ty, 0, 0, 1]
    case 'homography':
      return [1 + p[2]!, p[3]!, tx, p[4]!, 1 + p[5]!, ty, p[6]!, p[7]!, 1]
  }
}

function judged(
  level: Level,
  residual: Float32Array,
  sigma: number,
  gain: number,
  offset: number,
  model: MotionModel,
): Omit<Fit, 'map' | 'light'> {
  const { value, gx, gy } = level
  const n = value.length
  let [visible, agreeing, st, si, stt, sii, sti, cost, slopes] = [0, 0, 0, 0, 0, 0, 0, 0, 0]
  const limit = tukey * leastNoise
  for (let i = 0; i < n; i++) {
    const r = residual[i]!
    if (r !== r) continue
    const t = value[i]!
    const v = r + gain * t + offset
    visible++
    st += t
    si += v
    stt += t * t
    sii += v * v
    sti += t * v
    const size = Math.abs(r)
    if (size < 4 * leastNoise) agreeing++
    cost += size < limit ? r * r : limit * limit
    slopes += gx[i]! * gx[i]! + gy[i]! * gy[i]!
  }
  const vt = stt / visible - (st / visible) ** 2
  const vi = sii / visible - (si / visible) ** 2
  return {
    correlation: (sti / visible - (st * si) / (visible * visible)) / Math.sqrt((vt + 1) * (vi + 1)),
    visible: visible / n,
    agreeing: agreeing / visible,
    // Slopes of a fit of this many unknowns; neighbours are softened together, so they count as a quarter.
    standardError: (2 * sigma * Math.sqrt(unknowns[model])) / Math.sqrt(Math.max(1e-6, (gain * gain * slopes) / 2)),
    cost: cost / (leastNoise * leastNoise),
    count: visible,
  }
}

const sizes = new Uint32Array(512)
/** Median of the sizes of numbers, NaN left out, to a quarter: by counting, 128 and more count as 128. */
function medianOfSizes(values: Float32Array): number {
  sizes.fill(0)
  let count = 0
  for (const value of values) {
    if (value !== value) continue
    const bin = Math.abs(value) * 4
    sizes[bin < 511 ? bin | 0 : 511]!++
    count++
  }
  let left = count / 2
  for (let i = 0; i < 512; i++) {
    left -= sizes[i]!
    if (left <= 0) return (i + 0.5) / 4
  }
  return 128
}
