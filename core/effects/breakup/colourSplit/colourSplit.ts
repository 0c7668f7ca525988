import { choice, number, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody } from '../../shared/forms.ts'

export const colourSplit = defineEffect('colourSplit', {
  title: 'Colour split',
  summary: 'Colours come apart along the radius or at an angle, as in a cheap lens.',
  group: 'Breakup',
  ...aboutSomebody,
  parameters: {
    amount: number(
      'Split',
      'px',
      [0, 200, 0.5],
      8,
      'How far red and blue come apart; along the radius: at the picture’s edge.',
    ),
    way: choice('Way', { radius: 'along the radius', angle: 'at an angle' }, 'Away from the middle, or all one way.'),
    angle: number('Angle', '°', [-180, 180, 1], 0, 'The one way.'),
    blur: number('Blur', '%', [0, 1, 0.01], 0.5, 'From three copies to a whole spectrum.'),
    samples: still('Samples', '', [3, 24, 1], 9, 'Steps of the spectrum.'),
  },
  sentence: 'Split colours by {amount} {way} about {target} {region} {range}',
})
