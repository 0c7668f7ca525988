import { colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody } from '../../shared/forms.ts'

export const relight = defineEffect('relight', {
  title: 'Relight',
  summary: 'A lamp in the picture brightens the side of a performer that is turned to it.',
  group: 'Light',
  ...aboutSomebody,
  usual: 'inside',
  parameters: {
    strength: number('Strength', 'stops', [0, 6, 0.05], 1.5, 'By how much it brightens what faces the lamp from near.'),
    tint: colour('Colour', '#ffd9a0', 'Colour of the lamp.'),
    x: number('Across', 'px', [-4000, 4000, 1], 0, 'Where the lamp is, to the right of whom it rides on.'),
    y: number('Down', 'px', [-4000, 4000, 1], 0, 'Where it is, below whom it rides on.'),
    before: number('Before', 'px', [-1000, 2000, 1], 80, 'How far it is towards the viewer; below 0 it stands behind.'),
    reach: number('Reach', 'px', [10, 6000, 5], 500, 'Where half of its light is left.'),
    round: number('Roundness', 'px', [1, 300, 1], 40, 'How far in from the edge a body is taken to be rounded.'),
    relief: number('Relief', '%', [0, 3, 0.01], 1, 'How much it is rounded there; at 0 it is flat.'),
    shade: number('Shade', '%', [0, 1, 0.01], 0, 'How much light is taken from what is turned away.'),
  },
  sentence: 'Lamp at {target}, {tint}, lights {region} by {strength} {range}',
})
