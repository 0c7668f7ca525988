import { cubicBezierEasing } from '../geometry/easing.ts'
import { linearColour, to8Bit } from '../pixels/colour/transfer.ts'

export const eases = ['straight', 'eased', 'held', 'shaped'] as const
export type Ease = (typeof eases)[number]
/** Control points x1, y1, x2, y2 of a span that runs as a CSS cubic-bezier; y may overshoot. */
export type Bend = [number, number, number, number]
export interface CurveKey {
  /** Frame of the shot. */
  frame: number
  value: number
  /** How the span after this key runs. */
  ease: Ease
  /** The span's own form where it is 'shaped'. */
  bend?: Bend
}
/** A number over time; at least one key, sorted by frame, one per frame. */
export interface Curve {
  keys: CurveKey[]
}
export interface ColourKey {
  frame: number
  /** '#rrggbb' */
  colour: string
  ease: Ease
  bend?: Bend
}
/** A colour over time, like a {@link Curve}. */
export interface ColourCurve {
  colours: ColourKey[]
}

/** CSS ease-in-out. */
const easedBend: Bend = [0.42, 0, 0.58, 1]

/** How far a span has come at `u`, 0..1 of its frames; may overshoot where it is shaped so. */
export function progress({ ease, bend }: { ease: Ease; bend?: Bend }, u: number): number {
  if (ease === 'held') return 0
  if (ease === 'straight') return u
  return cubicBezierEasing(...(ease === 'shaped' && bend ? bend : easedBend), u)
}

/** The keys around `time` and how far it has come from one to the other; the same key twice beyond the ends. */
function spanAt<K extends { frame: number; ease: Ease; bend?: Bend }>(
  keys: readonly K[],
  time: number,
): [K, K, number] {
  const after = keys.findIndex((key) => key.frame > time)
  if (after === 0) return [keys[0]!, keys[0]!, 0]
  if (after < 0) return [keys[keys.length - 1]!, keys[keys.length - 1]!, 0]
  const a = keys[after - 1]!
  const b = keys[after]!
  return [a, b, progress(a, (time - a.frame) / (b.frame - a.frame))]
}

/** Value of a curve at `time` (frames of the shot, real). Held at the ends. */
export function curveAt(curve: Curve, time: number): number {
  const [a, b, u] = spanAt(curve.keys, time)
  return a.value + (b.value - a.value) * u
}

/** Colour of a curve at `time` as '#rrggbb', mixed in linear light. */
export function colourCurveAt({ colours }: ColourCurve, time: number): string {
  const [a, b, u] = spanAt(colours, time)
  if (u === 0) return a.colour
  const [from, to] = [linearColour(a.colour), linearColour(b.colour)]
  const code = from.map((v, i) =>
    to8Bit(Math.max(0, v + (to[i]! - v) * u))
      .toString(16)
      .padStart(2, '0'),
  )
  return `#${code.join('')}`
}

/** The curve with a key written (or replaced) at `frame`. */
export function withCurveKey(curve: Curve, key: CurveKey): Curve {
  const keys = [...curve.keys.filter((k) => k.frame !== key.frame), key]
  return { keys: keys.sort((a, b) => a.frame - b.frame) }
}

export type Retiming = 'reverse' | 'twice' | 'half' | 'here'

/**
 * A curve turned around in its own time, stretched to twice or half of it about its first key, or begun at `frame`. Keys
 * that fall on one frame become one, the later of them.
 */
export function retimeCurve<C extends Curve | ColourCurve>(curve: C, how: Retiming, frame: number): C {
  const keys: { frame: number; ease: Ease; bend?: Bend }[] = 'keys' in curve ? curve.keys : curve.colours
  const [first, last] = [keys[0]!.frame, keys.at(-1)!.frame]
  const at = (f: number) =>
    how === 'reverse'
      ? first + last - f
      : how === 'here'
        ? f - first + frame
        : Math.round(first + (f - first) * (how === 'twice' ? 2 : 0.5))
  const out = keys.map((key) => ({ ...key, frame: at(key.frame) }))
  if (how === 'reverse') {
    out.reverse()
    // A span's form belongs to the key before it: it goes along to the span's other end, its bend turned around.
    out.forEach((key, i) => {
      const span = keys[keys.length - 2 - i] ?? keys[0]!
      key.ease = span.ease
      delete key.bend
      if (span.bend) {
        const [x1, y1, x2, y2] = span.bend
        key.bend = [1 - x2, 1 - y2, 1 - x1, 1 - y1]
      }
    })
  }
  const single = out.filter((key, i) => key.frame !== out[i + 1]?.frame)
  return ('keys' in curve ? { keys: single } : { colours: single }) as C
}
