/**
 * A closed path of cubic Bezier segments as a flat array: the start point, then per segment two handles and
 * an end point (2 + 6 n numbers). The last end point is the start point.
 */
export type ClosedPath = number[]

/** Polygon (flat x, y list, not repeated at the end) within `tolerance` pixels of the path. */
export function flatten(path: ClosedPath, tolerance = 0.02): number[] {
  const out: number[] = []
  let x0 = path[0]!
  let y0 = path[1]!
  for (let i = 2; i + 5 < path.length; i += 6) {
    const [x1, y1, x2, y2, x3, y3] = path.slice(i, i + 6) as [number, number, number, number, number, number]
    // Largest second difference bounds the chord error of n equal steps by d / (8 n^2) * 6 (Wang's formula).
    const d = Math.max(Math.hypot(x0 - 2 * x1 + x2, y0 - 2 * y1 + y2), Math.hypot(x1 - 2 * x2 + x3, y1 - 2 * y2 + y3))
    const steps = Math.max(1, Math.ceil(Math.sqrt((0.75 * d) / tolerance)))
    for (let k = 0; k < steps; k++) {
      const t = k / steps
      const s = 1 - t
      const a = s * s * s
      const b = 3 * s * s * t
      const c = 3 * s * t * t
      const e = t * t * t
      out.push(a * x0 + b * x1 + c * x2 + e * x3, a * y0 + b * y1 + c * y2 + e * y3)
    }
    x0 = x3
    y0 = y3
  }
  return out
}

/** Signed area of a polygon in square pixels by the shoelace formula; positive when clockwise on screen (y down). */
export function polygonArea(points: ArrayLike<number>): number {
  let twice = 0
  const n = points.length
  for (let i = 0; i < n; i += 2) {
    const j = (i + 2) % n
    twice += points[i]! * points[j + 1]! - points[j]! * points[i + 1]!
  }
  return twice / 2
}

/** Whether a place lies within a polygon or at most `reach` pixels from its edge. */
export function isNear(polygon: readonly number[], x: number, y: number, reach: number): boolean {
  let within = false
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [polygon[j]!, polygon[j + 1]!, polygon[i]!, polygon[i + 1]!]
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) within = !within
    const length = (bx - ax) ** 2 + (by - ay) ** 2
    const u = length ? Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0
    if (Math.hypot(ax + u * (bx - ax) - x, ay + u * (by - ay) - y) <= reach) return true
  }
  return within
}
