import { colour, number, plain, word } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import { goingBy, goingChoice, goingSettings, leftOver, rimLight } from '../shared/dissolveOrder.ts'
import type { EffectKind } from '../effect.ts'
import { wholePicture } from '../shared/place.ts'

const p = {
  amount: number('amount', 'Gone', '%', [0, 1, 0.005], 0.4, 'How much has dissolved; key it from 0 to 100 %.'),
  by: goingChoice(goingBy),
  ...{ size: goingSettings.size, soften: goingSettings.soften },
  to: colour('to', 'Into', '#000000', 'Colour that is left.'),
  rim: goingSettings.rim,
  rimColour: colour('rimColour', 'Rim colour', '#ff9a4a', 'Colour of the rim.'),
  seed: goingSettings.seed,
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
    const { settings } = context
    const to = context.colour(word(settings, p.to))
    const rim = rimLight(context, p.rimColour)
    const amount = plain(settings, p.amount)
    const left = leftOver(context, word(settings, p.by), amount, region, { data, region })
    const [r, g, b] = to as [number, number, number]
    for (let i = 0, at = 0; i < left.length; i++, at += 4) {
      const share = left[i]!
      if (share === 1) continue
      const burning = 4 * share * (1 - share)
      data[at] = r + (data[at]! - r) * share + burning * rim[0]!
      data[at + 1] = g + (data[at + 1]! - g) * share + burning * rim[1]!
      data[at + 2] = b + (data[at + 2]! - b) * share + burning * rim[2]!
    }
  },
}
