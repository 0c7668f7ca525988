import { choice, colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { dissolveBy, dissolveSettings, onPicture } from '../../shared/forms.ts'

export const dissolve = defineEffect('dissolve', {
  title: 'Dissolve',
  summary: 'The picture goes flake by flake, by noise or by its brightness, with a burning rim.',
  group: 'Breakup',
  ...onPicture,
  parameters: {
    amount: number('Gone', '%', [0, 1, 0.005], 0.4, 'How much has dissolved; key it from 0 to 100 %.'),
    by: choice('By', dissolveBy, 'What goes first.'),
    size: dissolveSettings.size,
    soften: dissolveSettings.soften,
    to: colour('Into', '#000000', 'Colour that is left.'),
    rim: dissolveSettings.rim,
    rimColour: colour('Rim colour', '#ff9a4a', 'Colour of the rim.'),
    seed: dissolveSettings.seed,
  },
  sentence: 'Dissolve {amount} of {region} by {by} into {to} {range}',
})
