import { say } from '../../say.ts'
import type { Kernels, Span } from '../kernels/interface.ts'

/**
 * Blending of W3C Compositing and Blending Level 1 (https://www.w3.org/TR/compositing-1/), for premultiplied RGBA floats.
 * The formulas are given for values 0..1: what is brighter is cut to 1 inside them, but for Normal and Add, which keep
 * light above 1. A source without alpha but with colour is pure light: Normal and Add add it.
 */
export const blends = {
  normal: say`Normal`,
  add: say`Add`,
  screen: say`Screen`,
  multiply: say`Multiply`,
  lighten: say`Lighten`,
  darken: say`Darken`,
  overlay: say`Overlay`,
  softLight: say`Soft light`,
  hardLight: say`Hard light`,
  dodge: say`Colour dodge`,
  burn: say`Colour burn`,
  difference: say`Difference`,
  exclusion: say`Exclusion`,
  hue: say`Hue`,
  saturation: say`Saturation`,
  colour: say`Colour`,
  luminosity: say`Luminosity`,
} as const
export type BlendName = keyof typeof blends
export const blendNames = Object.keys(blends) as BlendName[]

type Separable = Exclude<BlendName, 'normal' | 'add' | 'hue' | 'saturation' | 'colour' | 'luminosity'>

const hard = (b: number, s: number): number => (s <= 0.5 ? b * 2 * s : b + (2 * s - 1) - b * (2 * s - 1))

/** B(Cb, Cs) of the separable modes; both 0..1 and not premultiplied. */
export const blendFunctions: Record<Separable, (b: number, s: number) => number> = {
  screen: (b, s) => b + s - b * s,
  multiply: (b, s) => b * s,
  lighten: Math.max,
  darken: Math.min,
  overlay: (b, s) => hard(s, b),
  hardLight: hard,
  softLight: (b, s) => {
    if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b)
    const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b)
    return b + (2 * s - 1) * (d - b)
  },
  dodge: (b, s) => (b === 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s))),
  burn: (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
}

type Rgb = [number, number, number]
const lum = ([r, g, b]: Rgb) => 0.3 * r + 0.59 * g + 0.11 * b
const sat = ([r, g, b]: Rgb) => Math.max(r, g, b) - Math.min(r, g, b)

/** ClipColor and SetLum of the recommendation. */
function withLum(colour: Rgb, l: number): Rgb {
  const d = l - lum(colour)
  const c = colour.map((v) => v + d) as Rgb
  const [n, x] = [Math.min(...c), Math.max(...c)]
  const own = lum(c)
  if (n < 0) return c.map((v) => own + ((v - own) * own) / (own - n)) as Rgb
  if (x > 1) return c.map((v) => own + ((v - own) * (1 - own)) / (x - own)) as Rgb
  return c
}

/** SetSat of the recommendation. */
function withSat(colour: Rgb, s: number): Rgb {
  const [n, x] = [Math.min(...colour), Math.max(...colour)]
  return x > n ? (colour.map((v) => ((v - n) * s) / (x - n)) as Rgb) : [0, 0, 0]
}

const wholeColour: Record<'hue' | 'saturation' | 'colour' | 'luminosity', (b: Rgb, s: Rgb) => Rgb> = {
  hue: (b, s) => withLum(withSat(s, sat(b)), lum(b)),
  saturation: (b, s) => withLum(withSat(b, sat(s)), lum(b)),
  colour: (b, s) => withLum(s, lum(b)),
  luminosity: (b, s) => withLum(b, lum(s)),
}

const unit = (v: number) => (v < 0 ? 0 : v > 1 ? 1 : v)

/** How much of a layer is laid on: everywhere, and pixel by pixel (null for all of it). */
export interface Laid {
  opacity: number
  mask: Span | null
}

/** Lays `count` pixels of `layer` onto `under` in place. Places count in numbers for pictures and in pixels for the mask. */
export function blendRow(mode: BlendName, layer: Span, under: Span, count: number, laid: Laid, kernels: Kernels): void {
  const { opacity, mask } = laid
  if (mode === 'normal' || mode === 'add') return kernels.layRow(mode === 'normal', layer, under, count, opacity, mask)
  if (mode === 'screen') return kernels.screenRow(layer, under, count, opacity, mask)
  const separable = blendFunctions[mode as Separable] as ((b: number, s: number) => number) | undefined
  const backdrop: Rgb = [0, 0, 0]
  const source: Rgb = [0, 0, 0]
  const { data } = under
  let [from, to] = [layer.at, under.at]
  for (let i = 0; i < count; i++, from += 4, to += 4) {
    const share = mask ? opacity * mask.data[mask.at + i]! : opacity
    if (share === 0) continue
    const sa = layer.data[from + 3]! * share
    // Pure light gets the alpha that its brightness would cover.
    const lit = Math.max(layer.data[from]!, layer.data[from + 1]!, layer.data[from + 2]!) * share
    const as = unit(Math.max(sa, lit))
    if (as === 0) continue
    const ab = data[to + 3]!
    for (let c = 0; c < 3; c++) {
      source[c] = unit((layer.data[from + c]! * share) / as)
      backdrop[c] = ab > 0 ? unit(data[to + c]! / ab) : 0
    }
    const mixed = separable ? null : wholeColour[mode as 'hue'](backdrop, source)
    for (let c = 0; c < 3; c++) {
      const blended = mixed ? mixed[c]! : separable!(backdrop[c]!, source[c]!)
      // Light above 1 stays above 1 as far as the source lets the backdrop through.
      data[to + c] = (1 - as) * data[to + c]! + as * (1 - ab) * source[c]! + as * ab * blended
    }
    data[to + 3] = as + ab * (1 - as)
  }
}
