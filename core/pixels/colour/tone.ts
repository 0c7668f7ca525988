/** Places (x, y) in rising x. */
type Tone = readonly (readonly [number, number])[]

/**
 * A tone curve as a function: monotone cubic interpolation through its places (Fritsch and Carlson 1980), so that it
 * never overshoots between them. Straight on beyond the first and last place.
 */
export function toneCurve(places: Tone): (v: number) => number {
  const n = places.length
  if (n < 2) return (v) => v
  const x = places.map(([a]) => a)
  const y = places.map(([, b]) => b)
  const slopes = Array.from({ length: n - 1 }, (_, i) => (y[i + 1]! - y[i]!) / (x[i + 1]! - x[i]!))
  const m = places.map((_, i) =>
    i === 0
      ? slopes[0]!
      : i === n - 1
        ? slopes[n - 2]!
        : slopes[i - 1]! * slopes[i]! <= 0
          ? 0
          : (slopes[i - 1]! + slopes[i]!) / 2,
  )
  for (let i = 0; i < n - 1; i++) {
    const d = slopes[i]!
    if (d === 0) {
      m[i] = 0
      m[i + 1] = 0
      continue
    }
    const [a, b] = [m[i]! / d, m[i + 1]! / d]
    const size = a * a + b * b
    if (size > 9) {
      m[i] = (3 * d * a) / Math.sqrt(size)
      m[i + 1] = (3 * d * b) / Math.sqrt(size)
    }
  }
  return (v) => {
    if (v <= x[0]!) return y[0]! + (v - x[0]!) * m[0]!
    if (v >= x[n - 1]!) return y[n - 1]! + (v - x[n - 1]!) * m[n - 1]!
    let i = 0
    while (v > x[i + 1]!) i++
    const h = x[i + 1]! - x[i]!
    const t = (v - x[i]!) / h
    const [t2, t3] = [t * t, t * t * t]
    return (
      (2 * t3 - 3 * t2 + 1) * y[i]! +
      (t3 - 2 * t2 + t) * h * m[i]! +
      (-2 * t3 + 3 * t2) * y[i + 1]! +
      (t3 - t2) * h * m[i + 1]!
    )
  }
}

/** Whether a curve leaves everything as it is. */
export const isPlain = (places: Tone): boolean => places.every(([x, y]) => Math.abs(x - y) < 1e-6)
