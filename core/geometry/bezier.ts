/** A cubic Bezier segment as eight numbers: start, two handles, end; x and y each, in pixels. */
export type Cubic = [number, number, number, number, number, number, number, number]

export function pointOn(c: Cubic, t: number): [number, number] {
  const s = 1 - t
  const [a, b, d, e] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
  return [a * c[0] + b * c[2] + d * c[4] + e * c[6], a * c[1] + b * c[3] + d * c[5] + e * c[7]]
}

/** The two halves of a segment cut at t (de Casteljau): together they are the same curve. */
export function split(c: Cubic, t: number): [Cubic, Cubic] {
  const mix = (a: number, b: number) => a + (b - a) * t
  const [x1, y1] = [mix(c[0], c[2]), mix(c[1], c[3])]
  const [mx, my] = [mix(c[2], c[4]), mix(c[3], c[5])]
  const [x5, y5] = [mix(c[4], c[6]), mix(c[5], c[7])]
  const [x2, y2] = [mix(x1, mx), mix(y1, my)]
  const [x4, y4] = [mix(mx, x5), mix(my, y5)]
  const [x3, y3] = [mix(x2, x4), mix(y2, y4)]
  return [
    [c[0], c[1], x1, y1, x2, y2, x3, y3],
    [x3, y3, x4, y4, x5, y5, c[6], c[7]],
  ]
}

/** Place on a segment closest to (x, y): its t within 0..1 and its distance in pixels, to about 1e-4. */
export function nearestOn(c: Cubic, x: number, y: number): { t: number; distance: number } {
  const away = (t: number) => {
    const [px, py] = pointOn(c, t)
    return (px - x) ** 2 + (py - y) ** 2
  }
  // A curve that turns back lies near in several places: each nearest sample of 64 is gone on from.
  const steps = 64
  const samples = Array.from({ length: steps + 1 }, (_, i) => away(i / steps))
  let best = 0
  samples.forEach((value, i) => {
    if (value > (samples[i - 1] ?? Infinity) || value > (samples[i + 1] ?? Infinity)) return
    let t = i / steps
    for (let step = 0.5 / steps; step > 1e-6; step /= 2)
      for (const other of [t - step, t + step]) if (other >= 0 && other <= 1 && away(other) < away(t)) t = other
    if (away(t) < away(best)) best = t
  })
  return { t: best, distance: Math.sqrt(away(best)) }
}

/**
 * The segment from the first to the last of `places` (flat list) that leaves along `from` and arrives along `to` (unit
 * vectors pointing into the curve from either end) and lies closest to the places in the least-squares sense
 * (Schneider, An Algorithm for Automatically Fitting Digitized Curves, Graphics Gems 1990), and its largest distance
 * from one of them.
 */
export function fitSegment(
  places: readonly number[],
  from: [number, number],
  to: [number, number],
): { cubic: Cubic; error: number; worst: number } {
  const n = places.length / 2
  const [x0, y0, x3, y3] = [places[0]!, places[1]!, places[2 * n - 2]!, places[2 * n - 1]!]
  let u = chordShares(places)
  let best = { cubic: [x0, y0, x0, y0, x3, y3, x3, y3] as Cubic, error: Infinity, worst: 1 }
  for (let round = 0; round < 4; round++) {
    const cubic = leastSquares(places, u, from, to)
    let [error, worst] = [0, 1]
    u = u.map((t, i) => {
      if (i === 0 || i === n - 1) return t
      const [px, py] = [places[2 * i]!, places[2 * i + 1]!]
      const refined = newton(cubic, t, px, py)
      const [qx, qy] = pointOn(cubic, refined)
      const distance = Math.hypot(qx - px, qy - py)
      if (distance > error) [error, worst] = [distance, i]
      return refined
    })
    if (error < best.error) best = { cubic, error, worst }
  }
  return best
}

function chordShares(places: readonly number[]): number[] {
  const out = [0]
  for (let i = 2; i < places.length; i += 2)
    out.push(out.at(-1)! + Math.hypot(places[i]! - places[i - 2]!, places[i + 1]! - places[i - 1]!))
  const total = out.at(-1)! || 1
  return out.map((v) => v / total)
}

function leastSquares(
  places: readonly number[],
  u: readonly number[],
  from: [number, number],
  to: [number, number],
): Cubic {
  const n = u.length
  const [x0, y0, x3, y3] = [places[0]!, places[1]!, places[2 * n - 2]!, places[2 * n - 1]!]
  let [c00, c01, c11, d0, d1] = [0, 0, 0, 0, 0]
  for (let i = 0; i < n; i++) {
    const t = u[i]!
    const s = 1 - t
    const [b0, b1, b2, b3] = [s * s * s, 3 * s * s * t, 3 * s * t * t, t * t * t]
    const [ax, ay, bx, by] = [from[0] * b1, from[1] * b1, to[0] * b2, to[1] * b2]
    const rx = places[2 * i]! - (x0 * (b0 + b1) + x3 * (b2 + b3))
    const ry = places[2 * i + 1]! - (y0 * (b0 + b1) + y3 * (b2 + b3))
    c00 += ax * ax + ay * ay
    c01 += ax * bx + ay * by
    c11 += bx * bx + by * by
    d0 += ax * rx + ay * ry
    d1 += bx * rx + by * ry
  }
  const det = c00 * c11 - c01 * c01
  const chord = Math.hypot(x3 - x0, y3 - y0)
  let [a, b] = det > 1e-9 ? [(d0 * c11 - d1 * c01) / det, (c00 * d1 - c01 * d0) / det] : [0, 0]
  // Handles that point backwards or run away: the usual third of the chord is the better guess.
  if (a < 1e-3 * chord || b < 1e-3 * chord || a > 3 * chord || b > 3 * chord) a = b = chord / 3
  return [x0, y0, x0 + from[0] * a, y0 + from[1] * a, x3 + to[0] * b, y3 + to[1] * b, x3, y3]
}

/** One step of Newton's method towards the place on the curve closest to (x, y). */
function newton(c: Cubic, t: number, x: number, y: number): number {
  const [px, py] = pointOn(c, t)
  const s = 1 - t
  const d = (i: number) =>
    3 * (s * s * (c[i + 2]! - c[i]!) + 2 * s * t * (c[i + 4]! - c[i + 2]!) + t * t * (c[i + 6]! - c[i + 4]!))
  const dd = (i: number) => 6 * (s * (c[i + 4]! - 2 * c[i + 2]! + c[i]!) + t * (c[i + 6]! - 2 * c[i + 4]! + c[i + 2]!))
  const [dx, dy] = [d(0), d(1)]
  const down = dx * dx + dy * dy + (px - x) * dd(0) + (py - y) * dd(1)
  if (Math.abs(down) < 1e-9) return t
  return Math.max(0, Math.min(1, t - ((px - x) * dx + (py - y) * dy) / down))
}
