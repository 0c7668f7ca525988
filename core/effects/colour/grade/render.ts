import type { Tone } from '../../../parameters/parameters.ts'
import { lumaWeights } from '../../../pixels/colour/luminance.ts'
import { adaptation } from '../../../pixels/colour/temperature.ts'
import { isPlain, toneCurve } from '../../../pixels/colour/tone.ts'
import { quickEncoded, quickLinear } from '../../../pixels/colour/transfer.ts'
import { type Nine, span } from '../../../pixels/kernels/interface.ts'
import { rendererOf, type SettingsOfKind } from '../../effect.ts'
import { radians } from '../../shared/tools.ts'
import { grade } from './grade.ts'

type LinearGrade = Pick<SettingsOfKind<typeof grade>, 'exposure' | 'temperature' | 'tint' | 'hue' | 'saturation'>

const identity = [1, 0, 0, 0, 1, 0, 0, 0, 1]

const product = (a: number[], b: number[]): number[] =>
  identity.map((_, i) => {
    const [r, c] = [Math.floor(i / 3), i % 3]
    return a[3 * r]! * b[c]! + a[3 * r + 1]! * b[3 + c]! + a[3 * r + 2]! * b[6 + c]!
  })

const steps = 1024

export const renderGrade = rendererOf(grade, {
  sampleRadius: () => 0,
  draw({ settings, light, scratch }, { data }) {
    const m = gradeMatrix(settings)
    const contrast = settings.contrast
    const [all, ...own] = [settings.all, settings.red, settings.green, settings.blue].map(tableOf)
    const coded = contrast !== 1 || Boolean(all) || own.some((table) => table)
    const linear = light === 'linear'
    // About middle grey: 18 per cent of light, 0.46 encoded (common practice).
    const grey = quickEncoded(0.18)
    if (!coded && linear) return scratch.kernels.mixChannels(span(data), data.length / 4, m)
    for (let i = 0; i < data.length; i += 4) {
      let r = data[i]!
      let g = data[i + 1]!
      let b = data[i + 2]!
      if (!linear) {
        r = quickLinear(r)
        g = quickLinear(g)
        b = quickLinear(b)
      }
      for (let c = 0; c < 3; c++) {
        let v = m[3 * c]! * r + m[3 * c + 1]! * g + m[3 * c + 2]! * b
        if (coded) {
          v = quickEncoded(v)
          if (contrast !== 1) v = grey + (v - grey) * contrast
          if (all) v = through(all, v)
          const channel = own[c]
          if (channel) v = through(channel, v)
          if (linear) v = quickLinear(v)
        } else if (!linear) v = quickEncoded(v)
        data[i + c] = v < 0 ? 0 : v
      }
    }
  },
  shade({ settings, light }) {
    // Curves are tables, which the core goes through.
    if (![settings.all, settings.red, settings.green, settings.blue].every(isPlain)) return null
    return {
      wgsl,
      work: 80,
      numbers: [...gradeMatrix(settings), settings.contrast, light === 'linear' ? 1 : 0, quickEncoded(0.18)],
    }
  },
})

const wgsl = /* wgsl */ `
fn linear_of(c: vec3f) -> vec3f { return vec3f(linear(c.r), linear(c.g), linear(c.b)); }
fn encoded_of(c: vec3f) -> vec3f { return vec3f(encoded(c.r), encoded(c.g), encoded(c.b)); }
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let is_linear = numbers[10] > 0.5;
  var c = under.rgb;
  if (!is_linear) { c = linear_of(c); }
  c = vec3f(
    dot(c, vec3f(numbers[0], numbers[1], numbers[2])),
    dot(c, vec3f(numbers[3], numbers[4], numbers[5])),
    dot(c, vec3f(numbers[6], numbers[7], numbers[8])),
  );
  if (numbers[9] != 1.0) {
    let grey = numbers[11];
    c = grey + (encoded_of(c) - grey) * numbers[9];
    if (is_linear) { c = linear_of(c); }
  } else if (!is_linear) { c = encoded_of(c); }
  return vec4f(max(c, vec3f(0.0)), under.a);
}
`

/**
 * The part of a grade that is linear in light, as nine numbers row by row: exposure, white, hue and saturation about the
 * luminance. Hue and saturation use the matrices of the W3C Filter Effects module with BT.709 weights, on linear light.
 */
export function gradeMatrix({ exposure, temperature: kelvin, tint, hue, saturation }: LinearGrade): Nine {
  const white = Math.abs(kelvin - 6500) < 1 ? identity : adaptation(kelvin).flat()
  const green = [2 ** (tint / 2), 0, 0, 0, 2 ** -tint, 0, 0, 0, 2 ** (tint / 2)]
  const [lr, lg, lb] = lumaWeights.bt709
  const s = saturation
  const grey = [
    ...[lr + (1 - lr) * s, lg - lg * s, lb - lb * s],
    ...[lr - lr * s, lg + (1 - lg) * s, lb - lb * s],
    ...[lr - lr * s, lg - lg * s, lb + (1 - lb) * s],
  ]
  const [c, n] = [Math.cos(radians(hue)), Math.sin(radians(hue))]
  const turned = [
    ...[lr + c * (1 - lr) - n * lr, lg - c * lg - n * lg, lb - c * lb + n * (1 - lb)],
    ...[lr - c * lr + n * 0.143, lg + c * (1 - lg) + n * 0.14, lb - c * lb - n * 0.283],
    ...[lr - c * lr - n * (1 - lr), lg - c * lg + n * lg, lb + c * (1 - lb) + n * lb],
  ]
  const m = product(grey, product(turned, product(green, white)))
  return m.map((v) => v * 2 ** exposure) as unknown as Nine
}

function tableOf(places: Tone): Float32Array | null {
  if (isPlain(places)) return null
  const curve = toneCurve(places)
  return Float32Array.from({ length: steps + 2 }, (_, i) => curve(i / steps))
}

function through(table: Float32Array, v: number): number {
  if (v <= 0) return table[0]! + v
  if (v >= 1) return table[steps]! + (v - 1)
  const at = v * steps
  const i = at | 0
  return table[i]! + (table[i + 1]! - table[i]!) * (at - i)
}
