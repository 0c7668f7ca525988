/** A projective map of the plane, row by row; the last number is 1. */
export type Projective = readonly [number, number, number, number, number, number, number, number, number]

/**
 * The map that carries the unit square's corners (0,0), (1,0), (1,1), (0,1) to four places (flat list, in that order), by
 * Heckbert, Fundamentals of Texture Mapping and Image Warping (1989). Null where three of them lie on a line.
 */
export function fromUnitSquare(places: readonly number[]): Projective | null {
  const [x0, y0, x1, y1, x2, y2, x3, y3] = places as [number, number, number, number, number, number, number, number]
  const [sx, sy] = [x0 - x1 + x2 - x3, y0 - y1 + y2 - y3]
  const [dx1, dy1, dx2, dy2] = [x1 - x2, y1 - y2, x3 - x2, y3 - y2]
  const d = dx1 * dy2 - dx2 * dy1
  if (Math.abs(d) < 1e-9) return null
  const g = (sx * dy2 - dx2 * sy) / d
  const h = (dx1 * sy - sx * dy1) / d
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1]
}

/** The map that takes it back; null where it flattens the plane. */
export function inverseOf([a, b, c, d, e, f, g, h, i]: Projective): Projective | null {
  const m = [
    ...[e * i - f * h, c * h - b * i, b * f - c * e],
    ...[f * g - d * i, a * i - c * g, c * d - a * f],
    ...[d * h - e * g, b * g - a * h, a * e - b * d],
  ]
  const last = m[8]!
  if (Math.abs(a * m[0]! + b * m[3]! + c * m[6]!) < 1e-12 || Math.abs(last) < 1e-12) return null
  return m.map((v) => v / last) as unknown as Projective
}

export function mapped([a, b, c, d, e, f, g, h, i]: Projective, x: number, y: number): [number, number] {
  const w = g * x + h * y + i
  return [(a * x + b * y + c) / w, (d * x + e * y + f) / w]
}

/** The map that does `first` and then `then`; the last number is 1. */
export function composed(then: Projective, first: Projective): Projective {
  const out: number[] = []
  for (let row = 0; row < 9; row += 3)
    for (let column = 0; column < 3; column++)
      out.push(then[row]! * first[column]! + then[row + 1]! * first[column + 3]! + then[row + 2]! * first[column + 6]!)
  return out.map((v) => v / out[8]!) as unknown as Projective
}

/** Every point of a flat list sent through the map. */
export function mappedAll(map: Projective, points: readonly number[]): number[] {
  const out: number[] = []
  for (let i = 0; i < points.length; i += 2) out.push(...mapped(map, points[i]!, points[i + 1]!))
  return out
}
