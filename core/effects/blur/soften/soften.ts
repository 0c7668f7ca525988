import { choice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const soften = defineEffect('soften', {
  title: 'Soften',
  summary: 'Blurs the picture all around, sideways, up and down or at an angle.',
  group: 'Blur',
  ...onPicture,
  usual: 'outside',
  parameters: {
    amount: number('Blur', 'px', [0, 400, 0.5], 18, 'How far an edge is spread: its fade from end to end.'),
    way: choice(
      'Direction',
      { both: 'all around', across: 'sideways', down: 'up and down', angle: 'at an angle' },
      'Where to the picture is spread.',
    ),
    angle: number('Angle', '°', [-180, 180, 1], 30, 'Direction of the blur at an angle; 0 is sideways.'),
  },
  sentence: 'Soften by {amount} {way} {region} {range}',
})
