import { edgeChoice, number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture, shutterSettings, smeared } from '../../shared/forms.ts'

export const shake = defineEffect('shake', {
  title: 'Shake',
  summary: 'Throws the picture about, as a blow or a running camera does.',
  group: 'Distortion',
  ...onPicture,
  moves: 'byItself',
  parameters: {
    amount: number('Amount', 'px', [0, 400, 0.5], 14, 'How far the picture is thrown.'),
    turn: number('Turn', '°', [0, 45, 0.1], 0.8, 'How far it turns.'),
    zoom: number('Zoom', '%', [0, 1, 0.005], 0.02, 'How much larger it gets.'),
    rate: number('Rate', '', [0.02, 1, 0.01], 0.4, 'New directions a frame.'),
    falloff: number(
      'Dies in',
      'frames',
      [0, 400, 1],
      0,
      'Frames in which it dies down from its first one; 0 for never.',
    ),
    seed: seedNumber,
    edge: edgeChoice,
    ...shutterSettings,
  },
  sentence: (settings) => `Shake by {amount}${smeared(settings)} {region} {range}`,
})
