import { choice, colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape } from '../../shared/forms.ts'

export const castLight = defineEffect('castLight', {
  title: 'Cast light',
  summary: 'The light’s colour falls on what is near it, within a member or everywhere.',
  group: 'Light',
  rides: anyShape,
  alone: false,
  region: 'bounds',
  makes: 'picture',
  blend: 'normal',
  parameters: {
    source: choice(
      'Light',
      { burning: 'as its blade burns', own: 'in its own colour' },
      'Whether colour, strength and lit length are those of the blade there, where one is.',
    ),
    strength: number('Strength', '%', [0, 10, 0.05], 1.5, 'How much light falls on what is near.'),
    tint: colour('Colour', '#3f9cff', 'Its own colour; that of the light where no blade is on it, too.'),
    distance: number('Reaching', 'px', [5, 3000, 5], 240, 'Distance at which half of the light is left.'),
    dark: number(
      'On dark places',
      '%',
      [0, 1, 0.01],
      0.25,
      'How much light even black things take; the rest goes by the plate’s own brightness.',
    ),
    haze: number('Haze', '%', [0, 1, 0.01], 0.03, 'Light that hangs in the air itself.'),
  },
  sentence: ({ source }) =>
    source === 'own'
      ? 'Cast light from {target} {source}, {tint}, onto {region}, reaching {distance} {behind} {range}'
      : 'Cast light from {target} {source}, else in {tint}, onto {region}, reaching {distance} {behind} {range}',
})
