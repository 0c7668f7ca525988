import { type ClosedPath, flatten } from '../geometry/path.ts'
import { boundsOf, inflate, intersect, noRect, type Rect, unite } from '../geometry/rect.ts'
import type { Plane } from '../pixels/buffers/picture.ts'
import { Scratch, Slot } from '../pixels/buffers/scratch.ts'
import { blurDirect } from '../pixels/filters/gaussian.ts'

const slots = { matte: new Slot() }

/** A single-channel matte in 0..1 with its place; outside of it the matte is 0. */
export interface Matte extends Rect {
  data: Float32Array
}

/**
 * Exact area coverage of a polygon on the pixels of `region`, written into `out` (region.width * region.height).
 * Each edge adds the signed area it leaves to its right per pixel; a running sum along the row gives the
 * coverage. Self-overlapping outlines of one winding are clipped at 1; where windings mix, the overlap cancels.
 */
export function coverPolygon(points: ArrayLike<number>, region: Rect, out: Float32Array): void {
  coverPolygons([points], region, out)
}

/** The same of several polygons together: one within another that runs the other way round is a hole. */
export function coverPolygons(polygons: readonly ArrayLike<number>[], region: Rect, out: Float32Array): void {
  const { width, height } = region
  out.fill(0, 0, width * height)
  for (const points of polygons) {
    const n = points.length
    for (let i = 0; i < n; i += 2) {
      const j = (i + 2) % n
      addEdge([points[i]! - region.x, points[i + 1]! - region.y, points[j]! - region.x, points[j + 1]! - region.y], {
        data: out,
        width: width,
        height: height,
      })
    }
  }
  for (let y = 0; y < height; y++) {
    let sum = 0
    const end = (y + 1) * width
    for (let at = y * width; at < end; at++) {
      sum += out[at]!
      const cover = sum < 0 ? -sum : sum
      // Rounding leaves about 1e-7 behind a shape; without the floor it would count as covered.
      out[at] = cover > 1 ? 1 : cover < 1e-5 ? 0 : cover
    }
  }
}

function addEdge(
  [x0, y0, x1, y1]: readonly [number, number, number, number],
  { data: out, width, height }: Plane,
): void {
  if (y0 === y1) return
  const down = y0 < y1
  const [ax, ay, bx, by] = down ? [x0, y0, x1, y1] : [x1, y1, x0, y0]
  if (by <= 0 || ay >= height) return
  const sign = down ? 1 : -1
  const slope = (bx - ax) / (by - ay)
  const top = ay > 0 ? ay : 0
  const bottom = by < height ? by : height
  const lastRow = Math.min(height - 1, Math.ceil(bottom) - 1)
  for (let row = top | 0; row <= lastRow; row++) {
    const ya = row > top ? row : top
    const yb = row + 1 < bottom ? row + 1 : bottom
    const dy = yb - ya
    if (dy <= 0) continue
    // x from y per row, not by adding slopes: the error does not pile up along long edges.
    let xa = ax + (ya - ay) * slope
    let xb = ax + (yb - ay) * slope
    if (xa > xb) [xa, xb] = [xb, xa]
    const base = row * width
    if (xb <= 0) {
      out[base]! += sign * dy
      continue
    }
    if (xa >= width) continue
    if (xa < 0 || xb > width) {
      addClipped(xa, xb, dy * sign, out, base, width)
      continue
    }
    addSpan(xa, xb, dy * sign, out, base, width)
  }
}

/** An edge piece that crosses the left or right border: split there, the part to the left counts at column 0. */
function addClipped(xa: number, xb: number, area: number, out: Float32Array, base: number, width: number): void {
  const span = xb - xa
  if (xa < 0) {
    const share = -xa / span
    out[base]! += area * share
    area *= 1 - share
    xa = 0
  }
  if (xb > width) {
    area *= (width - xa) / (xb - xa)
    xb = width
  }
  if (xb > xa) addSpan(xa, xb, area, out, base, width)
}

function addSpan(xa: number, xb: number, area: number, out: Float32Array, base: number, width: number): void {
  const first = xa | 0
  const last = Math.ceil(xb) - 1
  if (last <= first) {
    if (first >= width) return
    const share = 1 - ((xa + xb) / 2 - first)
    out[base + first]! += area * share
    if (first + 1 < width) out[base + first + 1]! += area * (1 - share)
    return
  }
  // The piece spans several columns: each takes the mean height over it, what is left goes to the next.
  const density = area / (xb - xa)
  let done = 0
  for (let column = first; column <= last; column++) {
    const left = column > xa ? column : xa
    const right = column + 1 < xb ? column + 1 : xb
    const weight = (right - left) * density
    const share = 1 - ((left + right) / 2 - column)
    out[base + column]! += weight * share + done
    done = weight * (1 - share)
  }
  if (last + 1 < width) out[base + last + 1]! += done
}

/**
 * Matte of a shape given in pixels, softened so that its edge fades over about `feather` pixels (a Gaussian with a
 * sigma of half the feather). Computed beyond `within` as far as the feather looks, then cut to it. Of several paths
 * `cover` makes one coverage over the region; `growth` is how far it may lie outside of them. The matte lies in the
 * scratch and is gone with the next one.
 */
export function matteOf(
  paths: ClosedPath | ClosedPath[],
  feather: number,
  within: Rect,
  cover: (data: Float32Array, region: Rect, polygons: number[][]) => void = (data, region, [polygon]) =>
    coverPolygon(polygon!, region, data),
  growth = 0,
  scratch = new Scratch(),
): Matte {
  const sigma = feather / 2
  const room = Math.ceil(3.5 * sigma + growth) + 1
  const polygons = (typeof paths[0] === 'number' ? [paths as ClosedPath] : (paths as ClosedPath[])).map((path) =>
    flatten(path),
  )
  const region = intersect(
    polygons.reduce<Rect>((all, polygon) => unite(all, boundsOf(polygon, room)), noRect),
    inflate(within, room),
  )
  const data = scratch.floats(slots.matte, region.width * region.height, true)
  if (data.length === 0) return { ...region, data }
  cover(data, region, polygons)
  blurDirect({ data, width: region.width, height: region.height }, sigma, scratch)
  return { ...region, data }
}
