import type { EffectContext } from '../effect.ts'

/** Steps between which colours run straight. */
const steps = 256

/** Colours on a way in working values: three numbers for each of 257 places on it. */
export type ColourWay = Float32Array

/**
 * The way from one colour (#rrggbb) to another over any number of others, each with its place 0..1; straight between them in working
 * values. Of several at one place the later ones win.
 */
export function colourWay(
  { colour }: Pick<EffectContext<unknown>, 'colour'>,
  from: string,
  between: readonly { at: number; colour: string }[],
  to: string,
): ColourWay {
  const all = [...between].sort((a, b) => a.at - b.at)
  const places = [{ at: 0, colour: from }, ...all, { at: 1, colour: to }].map((one) => ({
    at: one.at,
    light: colour(one.colour),
  }))
  const way = new Float32Array(3 * (steps + 1))
  let next = 1
  for (let i = 0; i <= steps; i++) {
    const at = i / steps
    while (next < places.length - 1 && places[next]!.at <= at) next++
    const [a, b] = [places[next - 1]!, places[next]!]
    const u = b.at > a.at ? Math.max(0, Math.min(1, (at - a.at) / (b.at - a.at))) : 1
    for (let c = 0; c < 3; c++) way[3 * i + c] = a.light[c]! + (b.light[c]! - a.light[c]!) * u
  }
  return way
}

/** A channel of the colour at a place 0..1 of a way; beyond it that of its end. */
export function along(way: ColourWay, at: number, c: number): number {
  const place = at <= 0 ? 0 : at >= 1 ? steps : at * steps
  const i = Math.min(steps - 1, place | 0)
  const low = way[3 * i + c]!
  return low + (way[3 * i + 3 + c]! - low) * (place - i)
}
