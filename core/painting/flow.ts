import { inflate, type Rect } from '../geometry/rect.ts'
import { coverAt, type Raster } from '../pixels/buffers/raster.ts'
import { bilinear, type FollowPicture, type Piece, pieceOf } from '../tracking/frame.ts'

/*
 * Optical flow of what lies within a matte: patches on a lattice are aligned inverse compositionally (Baker and Matthews,
 * "Lucas-Kanade 20 Years On", IJCV 2004), coarse to fine, each held by the mean of its neighbours as in Horn and Schunck,
 * "Determining Optical Flow" (1981). Only pixels of the matte count, so that the background does not pull at its edge.
 */

/** Motion in plate pixels on a lattice of `step` plate pixels, its first node at (x, y). */
export interface Flow {
  x: number
  y: number
  step: number
  columns: number
  rows: number
  u: Float32Array
  v: Float32Array
}

/** Pixels of the pyramid between two nodes, and half the side of a patch. */
const between = 4
const half = 4
const sweeps = [10, 8, 8, 10, 12]
/** How much a node is held by its neighbours: levels squared of each pixel of a patch, against a pixel of motion. */
const holding = 12
/** Differences of brightness beyond about this many levels count less and less. */
const usual = 12

/**
 * How what is in the matte (all that is in the box where it is null) goes from one picture to the next, over `box` in plate
 * pixels. `start`: motion to begin from. `finest` is the pyramid's last level: 1 for half size, 0 for full.
 */
export function flowOf(
  from: FollowPicture,
  to: FollowPicture,
  matte: Raster | null,
  box: Rect,
  start: Flow | null = null,
  finest = 1,
): Flow {
  const smallest = Math.min(box.width, box.height)
  let flow = start
  for (let level = 4; level >= finest; level--) {
    if (level > finest && smallest / 2 ** level < 6) continue
    const step = 2 ** level
    const room = 24 * step
    const own = pieceOf(from, box, level)
    const other = pieceOf(to, inflate(box, room), level)
    const next = latticeOver(box, between * step)
    for (let j = 0, i = 0; j < next.rows; j++)
      for (let k = 0; k < next.columns; k++, i++) {
        if (!flow) continue
        const [u, v] = flowAt(flow, next.x + k * next.step, next.y + j * next.step)
        next.u[i] = u
        next.v[i] = v
      }
    if (own && other) refine(next, own, other, matte, sweeps[level] ?? 8)
    flow = next
  }
  return flow!
}

function latticeOver(box: Rect, step: number): Flow {
  const columns = Math.max(2, Math.ceil(box.width / step) + 1)
  const rows = Math.max(2, Math.ceil(box.height / step) + 1)
  const [u, v] = [new Float32Array(columns * rows), new Float32Array(columns * rows)]
  return { x: box.x, y: box.y, step, columns, rows, u, v }
}

/** Motion at a place in plate pixels, bilinear; beyond the lattice that of its rim. */
export function flowAt({ x, y, step, columns, rows, u, v }: Flow, px: number, py: number): [number, number] {
  const gx = Math.max(0, Math.min(columns - 1.0001, (px - x) / step))
  const gy = Math.max(0, Math.min(rows - 1.0001, (py - y) / step))
  const at = (gy | 0) * columns + (gx | 0)
  const [s, t] = [gx - (gx | 0), gy - (gy | 0)]
  return [bilinear(u, at, columns, s, t), bilinear(v, at, columns, s, t)]
}

/** Numbers of a patch's pixel: its place in the piece, its brightness, gradient across and down, share, difference. */
const perPixel = 7

interface Patch {
  pixels: Float32Array
  count: number
}

function refine(flow: Flow, own: Piece, other: Piece, matte: Raster | null, sweeps: number): void {
  const { columns, rows, step } = flow
  const patches: (Patch | null)[] = []
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) patches.push(patchAt(own, flow.x + i * step, flow.y + j * step, matte))
  const { u, v } = flow
  const scale = own.step
  const room = new Float32Array((2 * half + 1) ** 2)
  for (let turn = 0; turn < sweeps; turn++) {
    // To and fro, so that what one end knows is soon known at the other.
    for (let k = 0; k < patches.length; k++) {
      const n = turn % 2 ? patches.length - 1 - k : k
      const mu = neighbours(flow, u, n, patches)
      const mv = neighbours(flow, v, n, patches)
      const patch = patches[n]
      if (!patch) {
        u[n] = mu
        v[n] = mv
        continue
      }
      const [du, dv] = [u[n]! / scale, v[n]! / scale]
      const { pixels, count } = patch
      const mean = differences(
        pixels,
        count,
        other,
        (own.x - other.x) / scale + du,
        (own.y - other.y) / scale + dv,
        room,
      )
      if (mean !== mean) {
        u[n] = mu
        v[n] = mv
        continue
      }
      let [a, b, c, e, f, all] = [0, 0, 0, 0, 0, 0]
      for (let p = 0, at = 0; p < count; p++, at += perPixel) {
        // A change of light moves all of a patch alike: its mean is taken off.
        const r = room[p]! - mean
        if (r !== r) continue
        pixels[at + 6] = r
        const w = pixels[at + 5]! / (1 + (r / usual) ** 2)
        const gx = pixels[at + 3]!
        const gy = pixels[at + 4]!
        a += w * gx * gx
        b += w * gx * gy
        c += w * gy * gy
        e += w * gx * r
        f += w * gy * r
        all += w
      }
      const hold = holding * all
      // Where it stands now the patch asks for a step of its own; the neighbours ask for their mean.
      const right = -e + hold * (mu / scale - du)
      const down = -f + hold * (mv / scale - dv)
      const det = (a + hold) * (c + hold) - b * b
      const limit = 2
      u[n] = scale * (du + Math.max(-limit, Math.min(limit, ((c + hold) * right - b * down) / det)))
      v[n] = scale * (dv + Math.max(-limit, Math.min(limit, ((a + hold) * down - b * right) / det)))
    }
  }
}

/**
 * Brightness at the moved places less that of the patch's own pixels, into `room`, NaN beyond the picture; their mean, in
 * which those count less that did not fit before. NaN where next to nothing of the patch is in the picture.
 */
function differences(
  pixels: Float32Array,
  count: number,
  other: Piece,
  offX: number,
  offY: number,
  room: Float32Array,
): number {
  let [sum, all] = [0, 0]
  const { data, width, height } = other
  for (let p = 0, at = 0; p < count; p++, at += perPixel) {
    const x = pixels[at]! + offX
    const y = pixels[at + 1]! + offY
    if (!(x >= 0 && y >= 0 && x < width - 1 && y < height - 1)) {
      room[p] = NaN
      continue
    }
    const [ix, iy] = [x | 0, y | 0]
    const r = bilinear(data, iy * width + ix, width, x - ix, y - iy) - pixels[at + 2]!
    room[p] = r
    const w = pixels[at + 5]! / (1 + (pixels[at + 6]! / usual) ** 2)
    sum += w * r
    all += w
  }
  return all < 4 ? NaN : sum / all
}

function patchAt(own: Piece, px: number, py: number, matte: Raster | null): Patch | null {
  const cx = Math.round((px - own.x) / own.step - 0.5)
  const cy = Math.round((py - own.y) / own.step - 0.5)
  const side = 2 * half + 1
  if (matte && !touches(matte, px, py, (half + 1) * own.step)) return null
  const pixels = new Float32Array(perPixel * side * side)
  let [count, weight] = [0, 0]
  for (let y = Math.max(1, cy - half); y <= Math.min(own.height - 2, cy + half); y++)
    for (let x = Math.max(1, cx - half); x <= Math.min(own.width - 2, cx + half); x++) {
      const share = matte ? coverAt(matte, own.x + (x + 0.5) * own.step, own.y + (y + 0.5) * own.step) : 1
      if (share < 0.05) continue
      const at = y * own.width + x
      const gx = 0.5 * (own.data[at + 1]! - own.data[at - 1]!)
      const gy = 0.5 * (own.data[at + own.width]! - own.data[at - own.width]!)
      pixels.set([x, y, own.data[at]!, gx, gy, share, 0], perPixel * count)
      count++
      weight += share
    }
  return weight > 6 ? { pixels, count } : null
}

const touches = ({ x, y, width, height }: Rect, px: number, py: number, by: number): boolean =>
  px > x - by && py > y - by && px < x + width + by && py < y + height + by

/** Mean of the nodes around one: those that see something of the matte count ten times as much. */
function neighbours({ columns, rows }: Flow, field: Float32Array, n: number, patches: (Patch | null)[]): number {
  const [i, j] = [n % columns, Math.floor(n / columns)]
  let [sum, all] = [0, 0]
  for (let side = 0; side < 4; side++) {
    const [di, dj] = [side === 0 ? -1 : side === 1 ? 1 : 0, side === 2 ? -1 : side === 3 ? 1 : 0]
    if (i + di < 0 || i + di >= columns || j + dj < 0 || j + dj >= rows) continue
    const k = n + dj * columns + di
    const weight = patches[k] ? 1 : 0.1
    sum += weight * field[k]!
    all += weight
  }
  return sum / all
}

/** The matte carried on by the flow, each new pixel sampled where it came from, within a box of plate pixels. */
export function carried(matte: Raster, flow: Flow, within: Rect): Raster {
  const most = reachOf(flow)
  const x0 = Math.max(within.x, Math.floor(matte.x + most.left))
  const y0 = Math.max(within.y, Math.floor(matte.y + most.up))
  const x1 = Math.min(within.x + within.width, Math.ceil(matte.x + matte.width + most.right))
  const y1 = Math.min(within.y + within.height, Math.ceil(matte.y + matte.height + most.down))
  const [width, height] = [Math.max(1, x1 - x0), Math.max(1, y1 - y0)]
  const data = new Uint8Array(width * height)
  const back = backwards(flow)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [px, py] = [x0 + x + 0.5, y0 + y + 0.5]
      const [du, dv] = flowAt(back, px, py)
      data[y * width + x] = Math.round(smoothCover(matte, px + du, py + dv))
    }
  return { x: x0, y: y0, width, height, data }
}

/** Where what arrives at each node came from, by walking back: the motion found at the last guess leads to the next. */
function backwards(flow: Flow): Flow {
  const { x, y, step, columns, rows } = flow
  const out = { ...flow, u: new Float32Array(flow.u.length), v: new Float32Array(flow.v.length) }
  for (let j = 0, n = 0; j < rows; j++)
    for (let i = 0; i < columns; i++, n++) {
      let [du, dv] = [flow.u[n]!, flow.v[n]!]
      for (let turn = 0; turn < 5; turn++) [du, dv] = flowAt(flow, x + i * step - du, y + j * step - dv)
      out.u[n] = -du
      out.v[n] = -dv
    }
  return out
}

function reachOf({ u, v }: Flow) {
  let [left, right, up, down] = [0, 0, 0, 0]
  for (let i = 0; i < u.length; i++) {
    left = Math.min(left, u[i]!)
    right = Math.max(right, u[i]!)
    up = Math.min(up, v[i]!)
    down = Math.max(down, v[i]!)
  }
  return { left: left - 2, right: right + 2, up: up - 2, down: down + 2 }
}

/** Cover between pixels, 0 to 255. */
function smoothCover({ x, y, width, height, data }: Raster, px: number, py: number): number {
  const [gx, gy] = [px - x - 0.5, py - y - 0.5]
  const [i, j] = [Math.floor(gx), Math.floor(gy)]
  if (i < -1 || j < -1 || i >= width || j >= height) return 0
  const [s, t] = [gx - i, gy - j]
  const at = j * width + i
  const [left, right, above, below] = [i >= 0, i + 1 < width, j >= 0, j + 1 < height]
  const top = (left && above ? data[at]! * (1 - s) : 0) + (right && above ? data[at + 1]! * s : 0)
  const low = (left && below ? data[at + width]! * (1 - s) : 0) + (right && below ? data[at + width + 1]! * s : 0)
  return top * (1 - t) + low * t
}
