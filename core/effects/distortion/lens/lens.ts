import { edgeChoice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody, shutterSettings, smeared } from '../../shared/forms.ts'

export const lens = defineEffect('lens', {
  title: 'Lens',
  summary: 'Bulges or pinches the picture about a member, from nothing to far over the frame.',
  group: 'Distortion',
  ...aboutSomebody,
  moves: 'byItsSettings',
  parameters: {
    strength: number('Bulge', '%', [-1, 1, 0.01], 0.5, 'Bulges out; below 0 it pinches.'),
    radius: number(
      'Radius',
      'px',
      [5, 6000, 5],
      260,
      'How far from the middle it reaches, over the whole frame and beyond.',
    ),
    edge: edgeChoice,
    ...shutterSettings,
  },
  sentence: (settings) => `Lens of {strength} about {target} within {radius}${smeared(settings)} {region} {range}`,
})
