import { inverseOf, mapped } from '../geometry/projective.ts'
import { inflate, intersect, type Rect, unite } from '../geometry/rect.ts'
import { coverAt, type Raster, rasterOf } from '../pixels/buffers/raster.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { signedDistance } from '../pixels/filters/distance.ts'
import { type Backdrop, type Field, fieldNumbers, fieldOf } from '../tracking/background.ts'
import type { FollowPicture } from '../tracking/frame.ts'
import { type Flow } from './flow.ts'
import { gridSize } from './grid.ts'
import { keptAreas } from './sides.ts'

/*
 * What moves fast covers its surroundings only for a part of the open shutter: no division finds it, as no pixel there shows it alone.
 * Where the backdrop is known the share can be told: C = aF + (1 - a)B (Porter and Duff, "Compositing Digital Images", SIGGRAPH 1984)
 * with B of the backdrop and F of the matte nearby, as far as its own motion reaches. The limits below were found on filmed
 * clips that the measuring ground keeps for developing.
 */

/** Plate pixels a frame below which nothing smears that the soft edge does not hold. */
const slowest = 4
/** Of the way of a frame, how far a smear is from where its matte was found, with plate pixels that the flow may be wrong by, and at most. */
const reach = { share: 0.75, wrong: 10, most: 70 }
/** Deviations of the backdrop that a pixel must differ by, and those beyond which all of it counts. */
const differs = { from: 2.5, fully: 4.5 }
/** Levels that a mixture may lie off the line between both colours, and levels squared that these must be apart. */
const [off, apart] = [10, 400]
/** Where more than this share of what lies around moves as well, nothing tells the smear from it. */
const mostAround = 0.07
/** Shares that are no smear. */
const least = 0.08
/** Half-size pixels of a cell whose colours are taken together, and the cells around that count: close by, and farther. */
const cell = 8
const near = [1, 3]

const slots = { distance: new Slot() }

/** How a matte came to a frame: as it was on the one beside it, that picture, and its motion from there. */
export interface Way {
  from: Raster
  before: FollowPicture
  flow: Flow
}

/** The matte of a frame with what of it smears by its motion. Where the backdrop is not known it stays as it is. */
export function withSmear(raster: Raster, picture: FollowPicture, backdrop: Backdrop, way: Way): Raster {
  const [was, motion] = [backdrop.motion(way.before), backdrop.motion(picture)]
  const back = was && inverseOf(was.map)
  if (!back || !motion) return raster
  const fast = fastOf(raster, way, (x, y) => mapped(motion.map, ...mapped(back, x, y)))
  if (fast.length === 0) return raster
  const discs = fast.map(({ x, y, speed }) => ({ x, y, r: Math.min(reach.most, reach.share * speed + reach.wrong) }))
  const whole = gridSize(picture, 1)
  const box = discs.reduce<Rect>(
    (all, { x, y, r }) => unite(all, { x: x - r, y: y - r, width: 2 * r, height: 2 * r }),
    {
      ...{ x: 0, y: 0, width: 0, height: 0 },
    },
  )
  const { x, y, width, height } = intersect(inflate(box, 2 * cell * near[1]!), whole)
  const field = fieldOf(backdrop, picture, motion, { x: x / 2, y: y / 2, width: width / 2, height: height / 2 })
  const cover = coverOn(field, raster)
  const reached = reachedOn(field, discs)
  if (busyAround(field, cover, reached)) return raster
  const share = sharesOn(field, cover, reached)
  const label = Uint8Array.from(share, (one, i) => (one > least || cover[i]! > 0.5 ? 1 : 0))
  keptAreas(label, field.width, (i) => cover[i]! > 0.5)
  for (let i = 0; i < share.length; i++) if (!label[i] || share[i]! < cover[i]! + 0.02) share[i] = 0
  return enlarged(field, share, raster, whole)
}

/**
 * Where the matte moves fast against what lies behind it, by how many pixels a frame: as it is now, and as it was, carried on, as a
 * division may have lost it. `rests`: where a place of the frame before is that does not move itself.
 */
function fastOf(
  raster: Raster,
  { from, flow }: Way,
  rests: (x: number, y: number) => readonly [number, number],
): { x: number; y: number; speed: number }[] {
  const { x, y, step, columns, rows, u, v } = flow
  const out: { x: number; y: number; speed: number }[] = []
  for (let j = 0, n = 0; j < rows; j++)
    for (let i = 0; i < columns; i++, n++) {
      const [px, py] = [x + i * step, y + j * step]
      const [tx, ty] = [px + u[n]!, py + v[n]!]
      const [rx, ry] = rests(px, py)
      const speed = Math.hypot(tx - rx, ty - ry)
      if (speed <= slowest) continue
      if (coverAt(raster, px, py) > 0.2) out.push({ x: px, y: py, speed })
      if (coverAt(from, px, py) > 0.2) out.push({ x: tx, y: ty, speed })
    }
  return out
}

function coverOn({ x, y, width, height }: Field, raster: Raster): Float32Array {
  const out = new Float32Array(width * height)
  for (let j = 0, at = 0; j < height; j++)
    for (let i = 0; i < width; i++, at++) out[at] = coverAt(raster, 2 * (x + i) + 1, 2 * (y + j) + 1)
  return out
}

/** 1 for the pixels that a smear can reach. */
function reachedOn(field: Field, discs: readonly { x: number; y: number; r: number }[]): Uint8Array {
  const { width, height } = field
  const out = new Uint8Array(width * height)
  for (const { x, y, r } of discs) {
    const [cx, cy] = [x / 2 - field.x, y / 2 - field.y]
    for (let j = Math.max(0, Math.ceil(cy - r / 2)); j <= Math.min(height - 1, cy + r / 2); j++) {
      const half = Math.sqrt(Math.max(0, (r / 2) ** 2 - (j - cy) ** 2))
      const [from, to] = [Math.max(0, Math.ceil(cx - half)), Math.min(width - 1, Math.floor(cx + half))]
      if (to >= from) out.fill(1, j * width + from, j * width + to + 1)
    }
  }
  return out
}

/** How far a pixel is from the backdrop, in its deviations; NaN where that is not known. */
function deviation({ data }: Field, i: number): number {
  const at = i * fieldNumbers
  if (data[at + 7] === 0) return NaN
  return Math.sqrt((data[at]! ** 2 + 2 * (data[at + 1]! ** 2 + data[at + 2]! ** 2)) / data[at + 6]!)
}

function busyAround(field: Field, cover: Float32Array, reached: Uint8Array): boolean {
  const { width, height } = field
  const distance = signedDistance({ data: cover, width, height }, new Scratch(), slots.distance)
  let [all, moving] = [0, 0]
  for (let i = 0; i < cover.length; i++) {
    // Beside the matte its own edge differs.
    if (reached[i] || distance[i]! < 3) continue
    all++
    if (!(deviation(field, i) < differs.from)) moving++
  }
  return moving > mostAround * all
}

/** What each pixel that is reached shows of the matte's colours nearby, 0 to 1. */
function sharesOn(field: Field, cover: Float32Array, reached: Uint8Array): Float32Array {
  const { data, width, height } = field
  const colours = [...near.map((cells) => coloursNear(field, cover, cells, 2)), coloursNear(field, cover, near[0]!, 0)]
  const columns = Math.ceil(width / cell)
  const out = new Float32Array(width * height)
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!reached[i] || cover[i]! >= 1) continue
      const counts = (deviation(field, i) - differs.from) / (differs.fully - differs.from)
      if (!(counts > 0)) continue
      const at = i * fieldNumbers
      const of = 4 * (Math.floor(y / cell) * columns + Math.floor(x / cell))
      let [best, share] = [Infinity, 0]
      for (const means of colours) {
        if (means[of + 3] === 0) continue
        let [along, contrast, length] = [0, 0, 0]
        for (let c = 0; c < 3; c++) {
          const weight = c ? 2 : 1
          const line = means[of + c]! - data[at + 3 + c]!
          along += weight * line * data[at + c]!
          contrast += weight * line * line
          length += weight * data[at + c]! ** 2
        }
        const own = along / contrast
        if (contrast < apart || own <= 0 || own > 1.3) continue
        const fit = (length - own * along) / (off * off + 0.06 * contrast)
        if (fit < best) [best, share] = [fit, Math.min(1, own) * Math.exp(-fit)]
      }
      out[i] = share * Math.min(1, counts)
    }
  return out
}

/** Mean colours (y, u, v, and whether there are any) of what is wholly in the matte, for each cell with so many around it. */
function coloursNear({ data, width, height }: Field, cover: Float32Array, around: number, rim: number): Float32Array {
  const [columns, rows] = [Math.ceil(width / cell), Math.ceil(height / cell)]
  const sums = new Float64Array(4 * columns * rows)
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const i = y * width + x
      // Away from its edge, which is a mixture already.
      if (cover[i]! < 1 || cover[i - rim]! < 1 || cover[i + rim]! < 1) continue
      if (cover[i - rim * width]! < 1 || cover[i + rim * width]! < 1) continue
      const to = 4 * (Math.floor(y / cell) * columns + Math.floor(x / cell))
      for (let c = 0; c < 3; c++) sums[to + c]! += data[i * fieldNumbers + c]! + data[i * fieldNumbers + 3 + c]!
      sums[to + 3]!++
    }
  const out = new Float32Array(sums.length)
  for (let y = 0; y < rows; y++)
    for (let x = 0; x < columns; x++) {
      const total = [0, 0, 0, 0]
      for (let j = Math.max(0, y - around); j <= Math.min(rows - 1, y + around); j++)
        for (let i = Math.max(0, x - around); i <= Math.min(columns - 1, x + around); i++)
          for (let c = 0; c < 4; c++) total[c]! += sums[4 * (j * columns + i) + c]!
      const to = 4 * (y * columns + x)
      for (let c = 0; c < 3; c++) out[to + c] = total[c]! / Math.max(1, total[3]!)
      out[to + 3] = total[3]! ? 1 : 0
    }
  return out
}

/** The matte with shares of half-size pixels laid over it. */
function enlarged(field: Field, share: Float32Array, raster: Raster, whole: Rect): Raster {
  const box = intersect(
    unite(raster, { x: 2 * field.x, y: 2 * field.y, width: 2 * field.width, height: 2 * field.height }),
    whole,
  )
  const out = new Uint8Array(box.width * box.height)
  for (let y = 0, at = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, at++) {
      const [px, py] = [box.x + x, box.y + y]
      const [i, j] = [(px >> 1) - field.x, (py >> 1) - field.y]
      const inside = i >= 0 && j >= 0 && i < field.width && j < field.height
      const smeared = inside ? share[j * field.width + i]! : 0
      out[at] = Math.round(255 * Math.max(coverAt(raster, px + 0.5, py + 0.5), smeared))
    }
  return rasterOf(out, box) ?? raster
}
