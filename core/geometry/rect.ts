/** A rectangle of whole pixels; x and y may be negative (light is computed beyond the frame's edges). */
export interface Rect {
  x: number
  y: number
  width: number
  height: number
}

/** No pixel at all. */
export const noRect: Readonly<Rect> = { x: 0, y: 0, width: 0, height: 0 }
export const isEmpty = (rect: Rect): boolean => rect.width <= 0 || rect.height <= 0

/** Two opposite corners, as a flat list. */
export const cornersOf = ({ x, y, width, height }: Rect): number[] => [x, y, x + width, y + height]

/** The rectangle with `by` pixels more on every side, rounded up; less below 0. */
export function inflate({ x, y, width, height }: Rect, by: number): Rect {
  const pad = Math.ceil(by)
  return { x: x - pad, y: y - pad, width: width + 2 * pad, height: height + 2 * pad }
}

/** The part that both share; width or height 0 when they do not meet. */
export function intersect(a: Rect, b: Rect): Rect {
  const x = Math.max(a.x, b.x)
  const y = Math.max(a.y, b.y)
  return {
    x,
    y,
    width: Math.max(0, Math.min(a.x + a.width, b.x + b.width) - x),
    height: Math.max(0, Math.min(a.y + a.height, b.y + b.height) - y),
  }
}

/** The smallest rectangle around both; an empty one counts as nothing. */
export function unite(a: Rect, b: Rect): Rect {
  if (isEmpty(a)) return b
  if (isEmpty(b)) return a
  const x = Math.min(a.x, b.x)
  const y = Math.min(a.y, b.y)
  return {
    x,
    y,
    width: Math.max(a.x + a.width, b.x + b.width) - x,
    height: Math.max(a.y + a.height, b.y + b.height) - y,
  }
}

/** Bounds of a flat list of points (x0, y0, x1, y1, ...), grown by `pad` and rounded outwards to pixels. */
export function boundsOf(points: ArrayLike<number>, pad = 0): Rect {
  let left = Infinity
  let top = Infinity
  let right = -Infinity
  let bottom = -Infinity
  for (let i = 0; i + 1 < points.length; i += 2) {
    left = Math.min(left, points[i]!)
    right = Math.max(right, points[i]!)
    top = Math.min(top, points[i + 1]!)
    bottom = Math.max(bottom, points[i + 1]!)
  }
  if (left > right) return noRect
  const x = Math.floor(left - pad)
  const y = Math.floor(top - pad)
  return { x, y, width: Math.ceil(right + pad) - x, height: Math.ceil(bottom + pad) - y }
}
