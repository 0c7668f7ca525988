import { cubicBezierEasing } from '../geometry/easing.ts'
import { bestSimilarity, inverse, moved, power } from '../geometry/similarity.ts'
import type { Tween } from '../records/types.ts'

/** A key as in-betweens see it; '' or nothing for the style means the part's own. */
export interface TweenKey {
  frame: number
  points: readonly number[]
  tween?: Tween | ''
  /** How sure it is, 0 to 1, where it was followed; nothing where a hand set it. */
  followed?: number | null
}

/**
 * The shape a share `u` of the way from `a` to `b`, two lists of equal length.
 * straight: every point runs on its own line. arc: the shape turns, grows and shifts as one about a fixed place
 * (so a rod keeps its length and a limb its shape) and only what that leaves unexplained is blended.
 */
export function tween(a: readonly number[], b: readonly number[], u: number, way: 'straight' | 'arc'): number[] {
  if (way === 'straight') return a.map((value, i) => value + (b[i]! - value) * u)
  const whole = bestSimilarity(a, b)
  if (whole.ar * whole.ar + whole.ai * whole.ai < 1e-18) return tween(a, b, u, 'straight')
  // What b would be if the similarity were undone; for a rod this is a itself.
  const still = tween(a, moved(inverse(whole), b), u, 'straight')
  return moved(power(whole, u), still)
}

/**
 * The shape at `time` within the span from key `i` to key `i + 1`, by the style of the span.
 * arc: along the arc, at a speed that runs on through the keys (see {@link flow}); eased: along the arc, starting and
 * stopping softly (CSS ease-in-out); held: the earlier key until the later one.
 */
export function betweenKeys(keys: readonly TweenKey[], i: number, time: number, standard: Tween): readonly number[] {
  const [a, b] = [keys[i]!, keys[i + 1]!]
  const u = (time - a.frame) / (b.frame - a.frame)
  switch (a.tween || standard) {
    case 'held':
      return u < 1 ? a.points : b.points
    case 'straight':
      return tween(a.points, b.points, u, 'straight')
    case 'eased':
      return tween(a.points, b.points, cubicBezierEasing(0.42, 0, 0.58, 1, u), 'arc')
    case 'arc':
      return tween(a.points, b.points, flow(keys, i, u, standard), 'arc')
  }
}

/**
 * How far along its arc a span is at a share u of its time: a cubic Hermite curve whose speed at each key lies between
 * the speeds of the two spans that meet there, so that a swing speeds up through its keys instead of in steps. A key
 * where the motion turns back is a stop. Slopes are kept in 0..3, where the curve never runs backwards (Fritsch and
 * Carlson 1980). Beyond 0..1 the motion goes on as fast as it was at the end.
 */
function flow(keys: readonly TweenKey[], i: number, u: number, standard: Tween): number {
  const before = slopeThrough(keys, i, i - 1, standard)
  const after = slopeThrough(keys, i, i + 1, standard)
  if (before === null && after === null) return u
  // Where no span follows, the speed there is what keeps the change of speed smallest.
  const m0 = before ?? clamp((3 - after!) / 2)
  const m1 = after ?? clamp((3 - before!) / 2)
  if (u < 0) return m0 * u
  if (u > 1) return 1 + m1 * (u - 1)
  return ((u - 2) * u + 1) * u * m0 + (3 - 2 * u) * u * u + (u - 1) * u * u * m1
}

const clamp = (slope: number) => Math.max(0, Math.min(3, slope))

/** Speed of span `i` where it meets span `other`, in whole spans a span; null where there is no such span. */
function slopeThrough(keys: readonly TweenKey[], i: number, other: number, standard: Tween): number | null {
  if (other < 0 || other + 1 >= keys.length) return null
  const style = keys[other]!.tween || standard
  if (style === 'held' || style === 'eased') return 0
  const here = keys[i + 1]!.frame - keys[i]!.frame
  const there = keys[other + 1]!.frame - keys[other]!.frame
  let [mine, its, shared] = [0, 0, 0]
  const [a, b, c, d] = [keys[i]!.points, keys[i + 1]!.points, keys[other]!.points, keys[other + 1]!.points]
  for (let k = 0; k < a.length; k++) {
    const [p, q] = [(b[k]! - a[k]!) / here, (d[k]! - c[k]!) / there]
    mine += p * p
    its += q * q
    shared += p * q
  }
  if (mine < 1e-12) return null
  const lengths = Math.sqrt(mine * its)
  // Within a swing the straight way from key to key turns along: up to 60 degrees that is the same motion going on,
  // from 90 degrees on it is another one, and the key a stop.
  const goesOn = lengths > 0 ? Math.min(1, (2 * shared) / lengths) : 0
  if (goesOn <= 0) return 0
  const ratio = Math.sqrt(its / mine) * goesOn
  // The parabola through the three keys: the shorter span counts more.
  return clamp((ratio * here + there) / (here + there))
}
