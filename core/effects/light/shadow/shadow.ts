import { colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { fromRegion } from '../../shared/forms.ts'
import { groundSettings } from '../../shared/ground.ts'

export const shadow = defineEffect('shadow', {
  title: 'Shadow',
  summary: 'Somebody throws a shadow on the ground they stand on.',
  group: 'Light',
  ...fromRegion,
  parameters: {
    strength: number('Strength', '%', [0, 1, 0.01], 0.6, 'How much of the light is taken from the ground.'),
    length: number(
      'Length',
      '×',
      [-8, 8, 0.05],
      -0.4,
      'Against who throws it: below 0 it falls away from the viewer, above 0 towards.',
    ),
    lean: number('Lean', '°', [-85, 85, 1], 35, 'To the right, or below 0 to the left.'),
    tint: colour('Colour', '#10141c', 'What white ground becomes where all of its light is taken.'),
    ...groundSettings,
  },
  sentence:
    'Shadow of {region}, {length} as long as they are high, leaning by {lean}, {strength} dark {behind} {range}',
})
