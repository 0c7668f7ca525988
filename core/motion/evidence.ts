import { flatten, isNear } from '../geometry/path.ts'
import { boundsOf } from '../geometry/rect.ts'
import type { Settings } from '../parameters/parameters.ts'
import type { Luma } from '../pixels/buffers/luma.ts'
import type { PartKind } from '../shapes/kind.ts'
import { rodWidths } from '../shapes/kinds/rod.ts'

/** Brightness at a place in plate pixels, between the four nearest; the border goes on. */
export function lumaAt({ data, width, height, reduce }: Luma, x: number, y: number): number {
  const px = Math.max(0, Math.min(width - 1.001, x / reduce - 0.5))
  const py = Math.max(0, Math.min(height - 1.001, y / reduce - 0.5))
  const [ix, iy] = [px | 0, py | 0]
  const [u, v] = [px - ix, py - iy]
  const at = iy * width + ix
  const top = data[at]! + (data[at + 1]! - data[at]!) * u
  const below = at + width < data.length ? data[at + width]! + (data[at + width + 1]! - data[at + width]!) * u : top
  return top + (below - top) * v
}

/** Whether a place in plate pixels lies in the picture. */
const within = ({ width, height, reduce }: Luma, x: number, y: number) =>
  x >= 0 && y >= 0 && x < width * reduce && y < height * reduce

/**
 * Places that tell whether a shape lies on what it was traced on, in plate pixels: pairs across its edge, and for a rod
 * across its whole width, at even steps. The same list order for any shape of the part, so that brightness at these
 * places can be compared between frames.
 */
export function stations(kind: PartKind, points: readonly number[], settings: Settings): number[] {
  const out: number[] = []
  if (kind.kind === 'rod') {
    const [hx, hy, tx, ty] = points as [number, number, number, number]
    const length = Math.hypot(tx - hx, ty - hy) || 1
    const [nx, ny] = [-(ty - hy) / length, (tx - hx) / length]
    const { heel, tip } = rodWidths(points, settings)
    const wide = Math.max(heel, tip)
    // Past the tip too: a shape that falls short of the prop's end differs there.
    for (let i = 0; i <= 26; i++) {
      const u = 0.12 + (0.94 * i) / 26
      for (const v of [-1.4, -0.7, 0, 0.7, 1.4])
        out.push(hx + (tx - hx) * u + nx * v * wide, hy + (ty - hy) * u + ny * v * wide)
    }
    return out
  }
  const polygon = flatten(kind.path(points, settings), 0.5)
  const n = polygon.length / 2
  const lengths = [0]
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    lengths.push(lengths[i]! + Math.hypot(polygon[2 * j]! - polygon[2 * i]!, polygon[2 * j + 1]! - polygon[2 * i + 1]!))
  }
  const count = 48
  let i = 0
  for (let k = 0; k < count; k++) {
    const at = (lengths[n]! * k) / count
    while (i < n - 1 && lengths[i + 1]! < at) i++
    const j = (i + 1) % n
    const length = lengths[i + 1]! - lengths[i]! || 1
    const u = (at - lengths[i]!) / length
    const [dx, dy] = [polygon[2 * j]! - polygon[2 * i]!, polygon[2 * j + 1]! - polygon[2 * i + 1]!]
    const [x, y] = [polygon[2 * i]! + dx * u, polygon[2 * i + 1]! + dy * u]
    for (const out2 of [-5, -2, 2, 5]) out.push(x - (dy / length) * out2, y + (dx / length) * out2)
  }
  return out
}

/** Brightness along the stations of a shape; NaN where one lies outside the picture. */
export function profileOf(luma: Luma, places: readonly number[]): Float32Array {
  const out = new Float32Array(places.length / 2)
  for (let i = 0; i < out.length; i++) {
    const [x, y] = [places[2 * i]!, places[2 * i + 1]!]
    out[i] = within(luma, x, y) ? lumaAt(luma, x, y) : NaN
  }
  return out
}

/** Pixels around another shape in which it still changes the picture: its blur, its shadow, its own error. */
const besideOthers = 8

/** Takes stations that lie on or beside one of the polygons out of a profile. */
export function leaveOut(profile: Float32Array, places: readonly number[], polygons: readonly number[][]): void {
  for (const polygon of polygons) {
    const box = boundsOf(polygon, besideOthers)
    for (let i = 0; i < profile.length; i++) {
      const [x, y] = [places[2 * i]!, places[2 * i + 1]!]
      if (x < box.x || y < box.y || x > box.x + box.width || y > box.y + box.height) continue
      if (isNear(polygon, x, y, besideOthers)) profile[i] = NaN
    }
  }
}

/**
 * How unlike two profiles are, in levels: mean absolute difference after the change of light between them (their means)
 * is taken off. Null where less than a third of the stations can be compared.
 */
export function unlikeness(a: Float32Array, b: Float32Array): number | null {
  let [count, ma, mb] = [0, 0, 0]
  for (let i = 0; i < a.length; i++)
    if (a[i] === a[i] && b[i] === b[i]) {
      count++
      ma += a[i]!
      mb += b[i]!
    }
  if (count < a.length / 3) return null
  ma /= count
  mb /= count
  let sum = 0
  for (let i = 0; i < a.length; i++) if (a[i] === a[i] && b[i] === b[i]) sum += Math.abs(a[i]! - ma - (b[i]! - mb))
  return sum / count
}

/** Mean absolute change of brightness from `before` to `now` over a box in plate pixels, in levels. */
export function changeWithin(
  before: Luma,
  now: Luma,
  box: { left: number; top: number; right: number; bottom: number },
): number {
  const { width, height, reduce } = now
  const x0 = Math.max(0, Math.floor(box.left / reduce))
  const x1 = Math.min(width, Math.ceil(box.right / reduce))
  const y0 = Math.max(0, Math.floor(box.top / reduce))
  const y1 = Math.min(height, Math.ceil(box.bottom / reduce))
  let [sum, count] = [0, 0]
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      sum += Math.abs(now.data[y * width + x]! - before.data[y * width + x]!)
      count++
    }
  return count ? sum / count : 0
}
