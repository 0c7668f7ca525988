import { choice, colour, number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const flicker = defineEffect('flicker', {
  title: 'Flicker',
  summary: 'Light that wavers, jumps or fails.',
  group: 'Breakup',
  ...onPicture,
  parameters: {
    amount: number('Amount', '%', [0, 1, 0.01], 0.4, 'How much light comes and goes.'),
    way: choice(
      'Way',
      { wavering: 'wavering', jumping: 'jumping', failing: 'failing' },
      'Smoothly, from frame to frame, or on and off.',
    ),
    rate: number('Rate', '', [0.02, 1, 0.01], 0.5, 'Changes a frame.'),
    lift: number('Lift', '%', [0, 2, 0.01], 0, 'Brighter instead of darker by so much.'),
    tint: colour('Tint', '#ffffff', 'Colour of the light while it is up.'),
    seed: seedNumber,
  },
  sentence: 'Flicker {way} by {amount} {region} {range}',
})
