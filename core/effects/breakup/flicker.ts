import { span } from '../../pixels/kernels/interface.ts'
import { hashed, noise1 } from '../../pixels/filters/noise.ts'
import { choice, colour, number, plain, seedNumber, word } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { mix } from '../shared/tools.ts'

const p = {
  amount: number('amount', 'Amount', '%', [0, 1, 0.01], 0.4, 'How much light comes and goes.'),
  way: choice(
    'way',
    'Way',
    { wavering: 'wavering', jumping: 'jumping', failing: 'failing' },
    'Smoothly, from frame to frame, or on and off.',
  ),
  rate: number('rate', 'Rate', '', [0.02, 1, 0.01], 0.5, 'Changes a frame.'),
  lift: number('lift', 'Lift', '%', [0, 2, 0.01], 0, 'Brighter instead of darker by so much.'),
  tint: colour('tint', 'Tint', '#ffffff', 'Colour of the light while it is up.'),
  seed: seedNumber,
}

export const flicker: EffectKind = {
  kind: 'flicker',
  title: 'Flicker',
  summary: 'Light that wavers, jumps or fails.',
  group: 'Breakup',
  ...onPicture,
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Flicker' },
    { setting: 'way' },
    { text: 'by' },
    { setting: 'amount' },
    { field: 'region' },
    { field: 'range' },
  ],
  looks: () => 0,
  render(context, { data }) {
    const { settings, frame, scratch } = context
    const seed = plain(settings, p.seed)
    const time = frame * plain(settings, p.rate)
    const way = word(settings, p.way)
    const up =
      way === 'wavering'
        ? noise1(time, seed)
        : way === 'jumping'
          ? hashed(Math.floor(time), seed)
          : hashed(Math.floor(time), seed) < 0.5
            ? 0
            : 1
    const tint = context.colour(word(settings, p.tint))
    const amount = plain(settings, p.amount)
    const lift = plain(settings, p.lift)
    const [r, g, b] = tint.map((v) => mix(1 - amount, 1 + lift, up) * mix(1, v, up)) as [number, number, number]
    scratch.kernels.addTinted(span(data), span(data), data.length / 4, [r - 1, g - 1, b - 1, 0])
  },
}
