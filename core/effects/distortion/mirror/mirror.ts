import { edgeChoice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody, shutterSettings, smeared } from '../../shared/forms.ts'

export const mirror = defineEffect('mirror', {
  title: 'Mirror',
  summary: 'What is on one side of a line is seen on its other side, too.',
  group: 'Distortion',
  ...aboutSomebody,
  moves: 'byItsSettings',
  parameters: {
    angle: number('Turn', '°', [-3600, 3600, 1], 0, 'At 0 the line stands upright and the left is seen at the right.'),
    shift: number('Shift', 'px', [-8000, 8000, 1], 0, 'Moves the line towards the side that is covered.'),
    edge: edgeChoice,
    ...shutterSettings,
  },
  sentence: (settings) =>
    `Mirror about {target}, turned {angle}, shifted by {shift}${smeared(settings)} {region} {range}`,
})
