import { number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { laidOn } from '../../shared/forms.ts'

export const wrap = defineEffect('wrap', {
  title: 'Light wrap',
  summary: 'The light of the surroundings falls around the edge of somebody, as if they stood in them.',
  group: 'Light',
  rides: null,
  alone: false,
  region: 'source',
  makes: 'layer',
  blend: 'screen',
  parameters: {
    strength: number('Strength', '%', [0, 4, 0.01], 0.7, 'How much of the light comes around.'),
    width: number('Width', 'px', [1, 300, 1], 36, 'How far it reaches in from the edge.'),
    threshold: number('Bright from', '%', [0, 1, 0.01], 0, 'Brightness from which the surroundings give light.'),
  },
  sentence: `Light of the surroundings wraps {width} around {region}, {strength} of it ${laidOn}`,
})
