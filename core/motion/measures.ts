import { flatten, polygonArea } from '../geometry/path.ts'
import { bestSimilarity } from '../geometry/similarity.ts'
import type { Settings } from '../parameters/parameters.ts'
import { anchors, type PartKind } from '../shapes/kind.ts'

/** What a traced shape says on each frame; NaN where the part is not there. */
export interface Measures {
  /** Middle of its points, in plate pixels. */
  x: Float64Array
  y: Float64Array
  /** How far its points move to the next frame and from the one before, on average, in pixels a frame. */
  speed: Float64Array
  /** Square pixels within its edge. */
  area: Float64Array
  /** From heel to tip, or its longest extent, in pixels. */
  length: Float64Array
  /** Degrees, counted on through whole turns; clockwise on screen. A rod's own, else the turn since it was first there. */
  angle: Float64Array
}

export type MeasureName = 'speed' | 'area' | 'length' | 'angle'

export function measure(kind: PartKind, settings: Settings, shapes: readonly (readonly number[] | null)[]): Measures {
  const n = shapes.length
  const fresh = () => new Float64Array(n).fill(NaN)
  const out: Measures = { x: fresh(), y: fresh(), speed: fresh(), area: fresh(), length: fresh(), angle: fresh() }
  let before: { points: readonly number[]; angle: number } | null = null
  shapes.forEach((points, frame) => {
    if (!points) {
      before = null
      return
    }
    const own = anchors(kind, points)
    out.x[frame] = own.reduce((sum, i) => sum + points[2 * i]!, 0) / own.length
    out.y[frame] = own.reduce((sum, i) => sum + points[2 * i + 1]!, 0) / own.length
    out.area[frame] = Math.abs(polygonArea(flatten(kind.path(points, settings), 0.25)))
    out.length[frame] = longest(own.map((i) => [points[2 * i]!, points[2 * i + 1]!]))
    const bearing = (Math.atan2(points[3]! - points[1]!, points[2]! - points[0]!) * 180) / Math.PI
    let angle = kind.kind === 'rod' ? bearing : 0
    if (before) {
      const { ar, ai } = bestSimilarity(before.points, points)
      angle = before.angle + (Math.atan2(ai, ar) * 180) / Math.PI
    }
    out.angle[frame] = angle
    before = { points, angle }
    const steps = [shapes[frame - 1], shapes[frame + 1]].flatMap((other) =>
      other ? [own.reduce((sum, i) => sum + apart(points, other, i), 0) / own.length] : [],
    )
    if (steps.length) out.speed[frame] = steps.reduce((a, b) => a + b) / steps.length
  })
  return out
}

const apart = (a: readonly number[], b: readonly number[], i: number) =>
  Math.hypot(a[2 * i]! - b[2 * i]!, a[2 * i + 1]! - b[2 * i + 1]!)

function longest(places: readonly (readonly number[])[]): number {
  let most = 0
  for (const [i, a] of places.entries())
    for (const b of places.slice(i + 1)) most = Math.max(most, Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!))
  return most
}
