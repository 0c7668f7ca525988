import { lumaWeights } from '../../pixels/colour/luminance.ts'
import { adaptation } from '../../pixels/colour/temperature.ts'
import { isPlain, toneCurve } from '../../pixels/colour/tone.ts'
import { quickEncoded, quickLinear } from '../../pixels/colour/transfer.ts'
import type { Setting, Tone, ToneParameter } from '../../parameters/parameters.ts'
import { number, plain } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { radians } from '../shared/tools.ts'

const tone = (name: string, label: string, hint: string): ToneParameter => ({
  ...{ type: 'tone', name, label, hint },
  default: [
    [0, 0],
    [1, 1],
  ],
})
const p = {
  exposure: number('exposure', 'Exposure', 'stops', [-8, 8, 0.05], 0, 'Light doubled or halved per stop.'),
  contrast: number('contrast', 'Contrast', '%', [0, 3, 0.01], 1, 'Spread of the tones about middle grey.'),
  temperature: number(
    'temperature',
    'Temperature',
    'K',
    [2000, 20000, 50],
    6500,
    'Colour of the light: lower is warmer.',
  ),
  tint: number('tint', 'Tint', '', [-1, 1, 0.01], 0, 'To green below 0, to magenta above.'),
  hue: number('hue', 'Hue', '°', [-180, 180, 1], 0, 'Turns all colours around.'),
  saturation: number('saturation', 'Saturation', '%', [0, 4, 0.01], 1, 'From grey to vivid.'),
}
const curves = [
  tone('all', 'All', 'Tone curve of all channels, on the encoded values.'),
  tone('red', 'Red', 'Tone curve of red.'),
  tone('green', 'Green', 'Tone curve of green.'),
  tone('blue', 'Blue', 'Tone curve of blue.'),
]

export const grade: EffectKind = {
  kind: 'grade',
  title: 'Grade',
  summary: 'Exposure, contrast, temperature, tint, hue, saturation and tone curves, inside or outside.',
  group: 'Colour',
  ...onPicture,
  parameters: [...Object.values(p), ...curves],
  sentence: () => [
    { text: 'Grade' },
    { field: 'region' },
    { text: 'by' },
    { setting: 'exposure' },
    { text: ', saturation' },
    { setting: 'saturation' },
    { field: 'range' },
  ],
  looks: () => 0,
  render({ settings, light }, { data }) {
    const m = gradeMatrix(
      2 ** plain(settings, p.exposure),
      ...([plain(settings, p.temperature), plain(settings, p.tint)] as const),
      ...([plain(settings, p.hue), plain(settings, p.saturation)] as const),
    )
    const contrast = plain(settings, p.contrast)
    const tables = curves.map(({ name }) => tableOf(settings[name]))
    const coded = contrast !== 1 || tables.some((table) => table)
    const linear = light === 'linear'
    // About middle grey: 18 per cent of light, 0.46 encoded (common practice).
    const grey = quickEncoded(0.18)
    const [all, ...own] = tables
    if (!coded && linear) {
      const [rr, rg, rb, gr, gg, gb, br, bg, bb] = m as [
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
        number,
      ]
      for (let i = 0; i < data.length; i += 4) {
        const r = data[i]!
        const g = data[i + 1]!
        const b = data[i + 2]!
        const outR = rr * r + rg * g + rb * b
        const outG = gr * r + gg * g + gb * b
        const outB = br * r + bg * g + bb * b
        data[i] = outR < 0 ? 0 : outR
        data[i + 1] = outG < 0 ? 0 : outG
        data[i + 2] = outB < 0 ? 0 : outB
      }
      return
    }
    for (let i = 0; i < data.length; i += 4) {
      let [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!]
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
}

/**
 * The part of a grade that is linear in light, as nine numbers row by row: exposure, white, hue and saturation about the
 * luminance. Hue and saturation use the matrices of the W3C Filter Effects module with BT.709 weights, on linear light.
 */
export function gradeMatrix(gain: number, kelvin: number, tint: number, hue: number, saturation: number): number[] {
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
  return m.map((v) => v * gain)
}

const identity = [1, 0, 0, 0, 1, 0, 0, 0, 1]
const product = (a: number[], b: number[]): number[] =>
  identity.map((_, i) => {
    const [r, c] = [Math.floor(i / 3), i % 3]
    return a[3 * r]! * b[c]! + a[3 * r + 1]! * b[3 + c]! + a[3 * r + 2]! * b[6 + c]!
  })

const steps = 1024
function tableOf(value: Setting | undefined): Float32Array | null {
  const places = Array.isArray(value) ? (value as Tone) : null
  if (!places || isPlain(places)) return null
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
