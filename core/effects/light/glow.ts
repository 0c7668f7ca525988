import { inflate, intersect, isEmpty, unite } from '../../geometry/rect.ts'
import { Slot } from '../../pixels/buffers/scratch.ts'
import { span } from '../../pixels/kernels/interface.ts'
import { blurPicture } from '../../pixels/filters/blur.ts'
import { choice, colour, number, plain, word } from '../../parameters/builders.ts'
import { laidOn } from '../shared/forms.ts'
import type { EffectContext, EffectKind } from '../effect.ts'
import { brightness, ramp } from '../shared/tools.ts'

const slots = { glowCover: new Slot(), glowSource: new Slot(), glowBlurred: new Slot() }

const p = {
  strength: number('strength', 'Strength', '%', [0, 8, 0.01], 1, 'All of the glow together.'),
  from: choice(
    'from',
    'Comes from',
    { shape: 'the shape itself', bright: 'bright places' },
    'Whether the whole shape glows or only what is bright in the picture.',
  ),
  threshold: number('threshold', 'Bright from', '%', [0, 1, 0.01], 0.7, 'Brightness from which a place glows.'),
  near: number('near', 'Near halo', 'px', [0, 400, 1], 12, 'How far the inner halo fades.'),
  nearColour: colour('nearColour', 'Near colour', '#fff3d6', 'Colour of the inner halo.'),
  far: number('far', 'Far halo', 'px', [0, 600, 1], 70, 'How far the outer halo fades.'),
  farColour: colour('farColour', 'Far colour', '#ff9d3c', 'Colour of the outer halo.'),
  share: number('share', 'Far share', '%', [0, 1, 0.01], 0.5, 'How much of the light is in the outer halo.'),
  core: number('core', 'Burning core', '%', [0, 4, 0.01], 0, 'Light of the shape itself under its glow.'),
}

type Rgb = [number, number, number]
const widest = ({ settings }: EffectContext) => Math.max(plain(settings, p.near), plain(settings, p.far)) / 2
/** The whole picture is no shape: of it only the bright places glow. */
const fromShape = ({ settings, everywhere }: EffectContext) => !everywhere && word(settings, p.from) === 'shape'

export const glow: EffectKind = {
  kind: 'glow',
  title: 'Glow',
  summary: 'Soft light around shapes or around the bright places of the picture, in one or two colours.',
  group: 'Light',
  rides: null,
  alone: true,
  region: 'source',
  makes: 'layer',
  blend: 'screen',
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Glow of' },
    { setting: 'from' },
    { field: 'region' },
    { text: 'in' },
    { setting: 'nearColour' },
    { text: 'and' },
    { setting: 'farColour' },
    ...laidOn,
  ],
  reach(context) {
    if (plain(context.settings, p.strength) <= 0) return { x: 0, y: 0, width: 0, height: 0 }
    const bounds = context.regionBounds()
    return isEmpty(bounds) ? bounds : inflate(bounds, 4 * widest(context) * context.scale)
  },
  looks: (context) => 4 * widest(context) * context.scale,
  render(context, { data, region, under }) {
    const { settings, scale, scratch } = context
    const sigmas = [plain(settings, p.near), plain(settings, p.far)].map((feather) => (feather / 2) * scale)
    const pad = Math.ceil(4 * Math.max(...sigmas))
    // What glows may lie beyond the picture; its light comes in all the same. Where nothing glows nothing is blurred.
    const rect = unite(region, intersect(context.regionBounds(), inflate(region, pad)))
    const cover = context.region(rect, slots.glowCover)
    const source = scratch.floats(slots.glowSource, 4 * rect.width * rect.height, true)
    const shape = fromShape(context)
    const threshold = plain(settings, p.threshold)
    for (let y = 0, i = 0; y < rect.height; y++)
      for (let x = 0; x < rect.width; x++, i++) {
        if (cover[i] === 0) continue
        if (shape) {
          source.fill(cover[i]!, 4 * i, 4 * i + 3)
          continue
        }
        const column = rect.x + x - under!.region.x
        const row = rect.y + y - under!.region.y
        if (column < 0 || row < 0 || column >= under!.region.width || row >= under!.region.height) continue
        const at = 4 * (row * under!.region.width + column)
        const share = cover[i]! * ramp(threshold, threshold + 0.1, brightness(context, under!.data, at))
        for (let c = 0; c < 3; c++) source[4 * i + c] = under!.data[at + c]! * share
      }
    const strength = plain(settings, p.strength)
    const share = plain(settings, p.share)
    const layers = [
      { sigma: 0, tint: p.nearColour, gain: plain(settings, p.core) },
      { sigma: sigmas[0]!, tint: p.nearColour, gain: 1 - share },
      { sigma: sigmas[1]!, tint: p.farColour, gain: share },
    ]
    const blurred = scratch.floats(slots.glowBlurred, source.length)
    for (const { sigma, tint, gain } of layers) {
      if (gain * strength <= 0) continue
      blurred.set(source)
      blurPicture({ data: blurred, width: rect.width, height: rect.height }, sigma, 'nothing', scratch)
      const [r, g, b] = context.colour(word(settings, tint)).map((v) => v * gain * strength) as Rgb
      const light = [r, g, b, 0] as const
      for (let y = 0; y < region.height; y++) {
        const from = 4 * ((region.y + y - rect.y) * rect.width + region.x - rect.x)
        scratch.kernels.addTinted(span(blurred, from), span(data, 4 * y * region.width), region.width, light)
      }
    }
  },
}
