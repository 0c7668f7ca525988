import { edgeChoice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody, shutterSettings, smeared } from '../../shared/forms.ts'

export const twist = defineEffect('twist', {
  title: 'Twist',
  summary: 'Winds the picture up about a member.',
  group: 'Distortion',
  ...aboutSomebody,
  moves: 'byItsSettings',
  parameters: {
    angle: number('Twist', '°', [-1440, 1440, 1], 120, 'How far the middle turns.'),
    radius: number('Radius', 'px', [5, 4000, 5], 300, 'How far from the middle it reaches.'),
    edge: edgeChoice,
    ...shutterSettings,
  },
  sentence: (settings) => `Twist by {angle} about {target} within {radius}${smeared(settings)} {region} {range}`,
})
