import { edgeChoice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { aboutSomebody, shutterSettings, smeared } from '../../shared/forms.ts'

export const barrel = defineEffect('barrel', {
  title: 'Barrel bend',
  summary: 'Bends the whole picture outwards or inwards as a wide lens does.',
  group: 'Distortion',
  ...aboutSomebody,
  moves: 'byItsSettings',
  parameters: {
    bend: number('Bend', '%', [-1, 1, 0.01], 0.3, 'Straight lines bow outwards; below 0 inwards.'),
    zoom: number('Zoom', '×', [0.2, 4, 0.01], 1, 'Larger, to leave the bent edge outside.'),
    edge: edgeChoice,
    ...shutterSettings,
  },
  sentence: (settings) => `Barrel bend of {bend} about {target}${smeared(settings)} {region} {range}`,
})
