import { colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const frame = defineEffect('frame', {
  title: 'Frame',
  summary: 'Bars give the picture another shape, and its corners go dark.',
  group: 'Arrangement',
  ...onPicture,
  parameters: {
    shape: number('Shape', '', [0.25, 6, 0.01], 2.39, 'Width to height of what is left between the bars.'),
    colour: colour('Colour', '#000000', 'Of the bars and the corners.'),
    corners: number('Corners', '%', [0, 1, 0.01], 0.3, 'How dark the corners get.'),
    begins: number('Begin', '%', [0, 1, 0.01], 0.4, 'How far from the middle it begins; 100 % are the corners.'),
  },
  sentence: 'Frame of {shape} to 1 in {colour}, corners darkened by {corners} {region} {range}',
})
