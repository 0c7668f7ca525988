import { about, number, tone } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const grade = defineEffect('grade', {
  title: 'Grade',
  summary: 'Exposure, contrast, temperature, tint, hue, saturation and tone curves, inside or outside.',
  group: 'Colour',
  ...onPicture,
  usual: 'inside',
  parameters: {
    exposure: about(0, number('Exposure', 'stops', [-8, 8, 0.05], 0, 'Light doubled or halved per stop.')),
    contrast: about(
      1,
      number('Contrast', '%', [0, 3, 0.01], 1, 'Spread of the tones about middle grey: less below 0, more above.'),
    ),
    temperature: about(
      6500,
      number('Temperature', 'K', [2000, 20000, 50], 6500, 'Colour of the light: lower is warmer.'),
    ),
    tint: about(0, number('Tint', '', [-1, 1, 0.01], 0, 'To green below 0, to magenta above.')),
    hue: about(0, number('Hue', '°', [-180, 180, 1], 0, 'Turns all colours around.')),
    saturation: about(1, number('Saturation', '%', [0, 4, 0.01], 1, 'From grey at -100 to vivid above 0.')),
    all: tone('All', 'Tone curve of all channels, on the encoded values.'),
    red: tone('Red', 'Tone curve of red.'),
    green: tone('Green', 'Tone curve of green.'),
    blue: tone('Blue', 'Tone curve of blue.'),
  },
  wishes: {
    'Light and colour': ['exposure', 'contrast', 'temperature', 'tint', 'hue', 'saturation'],
    'Tone curves': ['all', 'red', 'green', 'blue'],
  },
  sentence: 'Grade {region} by {exposure}, saturation {saturation} {range}',
})
