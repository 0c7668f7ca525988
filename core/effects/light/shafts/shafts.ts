import { colour, number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { laidOn, lightOfSomebody } from '../../shared/forms.ts'

export const shafts = defineEffect('shafts', {
  title: 'Light shafts',
  summary: 'Beams that stream from the middle of somebody, broken into rays.',
  group: 'Light',
  ...lightOfSomebody,
  parameters: {
    strength: number('Strength', '%', [0, 8, 0.01], 1, 'Light of the shafts.'),
    length: number('Length', 'px', [10, 4000, 5], 420, 'How far the shafts reach from the middle.'),
    falloff: number('Falloff', '', [0.2, 6, 0.05], 1.6, 'How soon they fade on their way.'),
    tint: colour('Colour', '#ffe9b8', 'Colour of the light.'),
    rays: number('Rays', '', [0, 60, 1], 14, 'How many rays the light is broken into; 0 for an even cone.'),
    contrast: number('Ray contrast', '%', [0, 1, 0.01], 0.7, 'How dark it is between the rays.'),
    angle: number('Direction', '°', [-180, 180, 1], 90, 'Where the light streams to; 90 is downwards.'),
    opening: number('Opening', '°', [1, 360, 1], 360, 'How wide it opens; 360 is all around.'),
    flicker: number('Flicker', '%', [0, 1, 0.01], 0.2, 'How much the rays change over time.'),
    seed: seedNumber,
  },
  wishes: {
    'How they burn': ['strength', 'tint', 'length', 'falloff'],
    'Where they stream': ['angle', 'opening'],
    'How they are broken': ['rays', 'contrast', 'flicker', 'seed'],
  },
  sentence: `Light shafts from {target} in {tint} reaching {length} ${laidOn}`,
})
