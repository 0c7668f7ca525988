import type { Bend, ColourCurve, Curve, Ease } from './parameters.ts'

export type Retiming = 'reverse' | 'twice' | 'half' | 'here'

/**
 * A curve turned around in its own time, stretched to twice or half of it about its first key, or begun at `frame`. Keys
 * that fall on one frame become one, the later of them.
 */
export function retimed<C extends Curve | ColourCurve>(curve: C, how: Retiming, frame: number): C {
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
