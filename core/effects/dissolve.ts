import { cloudField } from '../image/noise.ts'
import { choice, colour, number, plain, seedNumber, word } from './describe.ts'
import { onPicture } from './forms.ts'
import type { EffectKind } from './kind.ts'
import { wholePicture } from './place.ts'
import { brightness, mix, ramp } from './tools.ts'

const p = {
  amount: number('amount', 'Gone', '%', [0, 1, 0.005], 0.4, 'How much has dissolved; key it from 0 to 100 %.'),
  by: choice(
    'by',
    'By',
    { noise: 'noise', dark: 'brightness, dark first', bright: 'brightness, bright first' },
    'What goes first.',
  ),
  size: number('size', 'Flake', 'px', [2, 400, 1], 40, 'Size of the flakes of noise.'),
  soften: number('soften', 'Softness', '%', [0.005, 1, 0.005], 0.12, 'How softly it goes.'),
  to: colour('to', 'Into', '#000000', 'Colour that is left.'),
  rim: number('rim', 'Burning rim', '×', [0, 20, 0.1], 3, 'Light of the rim where it goes.'),
  rimColour: colour('rimColour', 'Rim colour', '#ff9a4a', 'Colour of the rim.'),
  seed: seedNumber,
}

export const dissolve: EffectKind = {
  kind: 'dissolve',
  title: 'Dissolve',
  summary: 'The picture goes flake by flake, by noise or by its brightness, with a burning rim.',
  group: 'Breakup',
  ...onPicture,
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Dissolve' },
    { setting: 'amount' },
    { text: 'of' },
    { field: 'region' },
    { text: 'by' },
    { setting: 'by' },
    { text: 'into' },
    { setting: 'to' },
    { field: 'range' },
  ],
  reach: (context) =>
    plain(context.settings, p.amount) > 0 ? wholePicture(context) : { x: 0, y: 0, width: 0, height: 0 },
  looks: () => 0,
  render(context, { data, region }) {
    const { settings, scale, scratch } = context
    const by = word(settings, p.by)
    const soft = plain(settings, p.soften)
    // From nothing at 0 to all at 1, softness included.
    const gone = plain(settings, p.amount) * (1 + 2 * soft) - soft
    const size = plain(settings, p.size) * scale
    const seed = plain(settings, p.seed)
    const to = context.colour(word(settings, p.to))
    const rim = context.colour(word(settings, p.rimColour)).map((v) => v * plain(settings, p.rim))
    const noise = scratch.floats('dissolve noise', region.width * region.height)
    if (by === 'noise') cloudField(noise, region, size, seed, 2)
    for (let y = 0, i = 0; y < region.height; y++)
      for (let x = 0; x < region.width; x++, i += 4) {
        const order =
          by === 'noise'
            ? ramp(0.2, 0.8, noise[i >> 2]!)
            : by === 'dark'
              ? brightness(context, data, i)
              : 1 - brightness(context, data, i)
        const left = ramp(gone - soft, gone + soft, order)
        if (left === 1) continue
        const burning = 4 * left * (1 - left)
        for (let c = 0; c < 3; c++) data[i + c] = mix(to[c]!, data[i + c]!, left) + burning * rim[c]! * 0.5
      }
  },
}
