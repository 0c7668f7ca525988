import { choice, edgeChoice, number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody } from '../../shared/forms.ts'

export const ripple = defineEffect('ripple', {
  title: 'Ripple and haze',
  summary: 'Rings, waves or the shimmer of hot air.',
  group: 'Distortion',
  ...aboutSomebody,
  parameters: {
    form: choice(
      'Form',
      { rings: 'rings', waves: 'waves', haze: 'heat haze' },
      'Rings about a member, waves across, or rising air.',
    ),
    amount: number('Amount', 'px', [0, 200, 0.5], 8, 'How far places are pushed.'),
    size: number('Wave length', 'px', [4, 1000, 1], 60, 'From crest to crest, or the size of a swirl.'),
    speed: number('Speed', 'px', [-100, 100, 0.5], 4, 'Pixels a frame that the waves run, or the air rises.'),
    radius: number('Rings within', 'px', [10, 6000, 10], 900, 'Where rings have died down.'),
    seed: seedNumber,
    edge: edgeChoice,
  },
  sentence: 'Ripple in {form} of {amount} about {target} {region} {range}',
})
