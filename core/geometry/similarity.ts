/** A similarity of the plane (turn, growth and shift, no mirroring) as complex numbers: z -> a z + b. */
export interface Similarity {
  ar: number
  ai: number
  br: number
  bi: number
}

export const identity: Similarity = { ar: 1, ai: 0, br: 0, bi: 0 }

/**
 * The similarity that carries `from` to `to` best in the least-squares sense (Umeyama 1991, without mirroring); both
 * are flat lists of points of equal length. A single place or no extent gives a pure shift.
 */
export function bestSimilarity(from: readonly number[], to: readonly number[]): Similarity {
  const n = from.length / 2
  let [fx, fy, tx, ty] = [0, 0, 0, 0]
  for (let i = 0; i < from.length; i += 2) {
    fx += from[i]! / n
    fy += from[i + 1]! / n
    tx += to[i]! / n
    ty += to[i + 1]! / n
  }
  let [dot, cross, size] = [0, 0, 0]
  for (let i = 0; i < from.length; i += 2) {
    const [x, y, u, v] = [from[i]! - fx, from[i + 1]! - fy, to[i]! - tx, to[i + 1]! - ty]
    dot += x * u + y * v
    cross += x * v - y * u
    size += x * x + y * y
  }
  const ar = size > 0 ? dot / size : 1
  const ai = size > 0 ? cross / size : 0
  return { ar, ai, br: tx - (ar * fx - ai * fy), bi: ty - (ai * fx + ar * fy) }
}

/** The similarity run for a share u of its way (u may lie outside 0..1): a turn about one fixed place. */
export function power({ ar, ai, br, bi }: Similarity, u: number): Similarity {
  const scale = Math.hypot(ar, ai)
  if (scale < 1e-9) return { ar: 1, ai: 0, br: br * u, bi: bi * u }
  const angle = Math.atan2(ai, ar) * u
  const length = scale ** u
  const pr = length * Math.cos(angle)
  const pi = length * Math.sin(angle)
  // b_u = b (a^u - 1) / (a - 1), which tends to u b where there is neither turn nor growth.
  const dr = ar - 1
  const di = ai
  const d = dr * dr + di * di
  if (d < 1e-12) return { ar: pr, ai: pi, br: br * u, bi: bi * u }
  const qr = ((pr - 1) * dr + pi * di) / d
  const qi = (pi * dr - (pr - 1) * di) / d
  return { ar: pr, ai: pi, br: qr * br - qi * bi, bi: qr * bi + qi * br }
}

/** The one that takes it back; the identity where the similarity shrinks everything to a point. */
export function inverse({ ar, ai, br, bi }: Similarity): Similarity {
  const size = ar * ar + ai * ai
  if (size < 1e-18) return identity
  const [cr, ci] = [ar / size, -ai / size]
  return { ar: cr, ai: ci, br: -(cr * br - ci * bi), bi: -(ci * br + cr * bi) }
}

/** Every point of a flat list moved. */
export function moved({ ar, ai, br, bi }: Similarity, points: readonly number[]): number[] {
  const out = new Array<number>(points.length)
  for (let i = 0; i < points.length; i += 2) {
    const [x, y] = [points[i]!, points[i + 1]!]
    out[i] = ar * x - ai * y + br
    out[i + 1] = ai * x + ar * y + bi
  }
  return out
}
