import { number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const lensBlur = defineEffect('lensBlur', {
  title: 'Lens blur',
  summary: 'Out of focus as through a lens: every bright point becomes a disc.',
  group: 'Blur',
  ...onPicture,
  usual: 'outside',
  parameters: {
    radius: number('Disc', 'px', [0, 200, 0.5], 12, 'Radius of the disc that a point becomes.'),
    sparkle: number('Sparkle', '×', [0, 20, 0.1], 2, 'How much brighter bright places are, so that discs stand out.'),
    threshold: number('Bright from', '%', [0, 1, 0.01], 0.6, 'Light from which a place sparkles.'),
  },
  sentence: 'Lens blur of {radius} {region} {range}',
})
