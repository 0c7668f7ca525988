import type { Tween } from '../model/records.ts'

/** A similarity of the plane as complex numbers: z -> a z + b. */
interface Similarity {
  ar: number
  ai: number
  br: number
  bi: number
}

/** The similarity that carries `from` to `to` best in the least-squares sense (Umeyama 1991, without mirroring). */
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
function power({ ar, ai, br, bi }: Similarity, u: number): Similarity {
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

/**
 * The shape a share `u` of the way from `a` to `b`, two lists of equal length.
 * straight: every point runs on its own line. arc: the shape turns, grows and shifts as one about a fixed place
 * (so a rod keeps its length and a limb its shape) and only what that leaves unexplained is blended.
 */
export function tween(a: readonly number[], b: readonly number[], u: number, style: Tween): number[] {
  if (style === 'straight') return a.map((value, i) => value + (b[i]! - value) * u)
  const whole = bestSimilarity(a, b)
  const part = power(whole, u)
  const size = whole.ar * whole.ar + whole.ai * whole.ai
  if (size < 1e-18) return tween(a, b, u, 'straight')
  const out = new Array<number>(a.length)
  for (let i = 0; i < a.length; i += 2) {
    // What b would be if the similarity were undone; for a rod this is a itself.
    const [bx, by] = [b[i]! - whole.br, b[i + 1]! - whole.bi]
    const [sx, sy] = [(whole.ar * bx + whole.ai * by) / size, (whole.ar * by - whole.ai * bx) / size]
    const x = a[i]! + (sx - a[i]!) * u
    const y = a[i + 1]! + (sy - a[i + 1]!) * u
    out[i] = part.ar * x - part.ai * y + part.br
    out[i + 1] = part.ai * x + part.ar * y + part.bi
  }
  return out
}
