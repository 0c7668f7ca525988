import { edgeChoice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody } from '../../shared/forms.ts'

export const lens = defineEffect('lens', {
  title: 'Lens',
  summary: 'Bulges or pinches the picture about a member, from nothing to far over the frame.',
  group: 'Distortion',
  ...aboutSomebody,
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
  },
  sentence: 'Lens of {strength} about {target} within {radius} {region} {range}',
})
