import { choice, colour, number, stops } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape, laidOn } from '../../shared/forms.ts'

export const fill = defineEffect('fill', {
  title: 'Fill',
  summary: 'Lays a colour, a gradient or four corners over a shape or the picture.',
  group: 'Colour',
  rides: anyShape,
  alone: true,
  region: 'bounds',
  makes: 'layer',
  blend: 'normal',
  parameters: {
    form: choice(
      'Form',
      { one: 'one colour', line: 'from one to another', round: 'from the middle out', corners: 'four corners' },
      'How the colours lie.',
    ),
    first: colour('Colour', '#f4e9c8', 'The one colour, or where the fill begins.'),
    second: colour('Second', '#5d7a9c', 'Where the fill ends, or its top right corner.'),
    between: stops('first', 'second', 'Colours on the way from one to another, or from the middle out.'),
    third: colour('Third', '#2c4a3e', 'The bottom left corner.'),
    fourth: colour('Fourth', '#101820', 'The bottom right corner.'),
    angle: number('Angle', '°', [-180, 180, 1], 90, 'Way of the fill from one to another; 90 is downwards.'),
    size: number('Size', '%', [0.01, 4, 0.01], 1, 'Length of the way, as a share of the picture’s height.'),
    light: number('Light', '×', [0, 20, 0.05], 1, 'Brightness of the fill; above 1 it glows in what follows.'),
  },
  sentence: `Fill {region} with {first} ${laidOn}`,
})
