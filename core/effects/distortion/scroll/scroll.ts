import { choice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture, shutterSettings, smeared } from '../../shared/forms.ts'

export const scroll = defineEffect('scroll', {
  title: 'Scroll',
  summary: 'The surroundings slide past, by several picture widths if need be.',
  group: 'Distortion',
  ...onPicture,
  usual: 'outside',
  moves: 'byItsSettings',
  parameters: {
    across: number(
      'Across',
      '%',
      [-20, 20, 0.01],
      0.3,
      'Picture widths that the picture has slid to the right; key it.',
    ),
    down: number('Down', '%', [-20, 20, 0.01], 0, 'Picture heights that it has slid down.'),
    edge: choice(
      'Past the edge',
      { repeated: 'repeated', mirrored: 'mirrored', stretched: 'stretched' },
      'What follows the picture.',
    ),
    ...shutterSettings,
  },
  sentence: (settings) => `Scroll {region} by {across} of its width, {edge}${smeared(settings)} {range}`,
})
