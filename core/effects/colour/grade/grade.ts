import { number, tone } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const grade = defineEffect('grade', {
  title: 'Grade',
  summary: 'Exposure, contrast, temperature, tint, hue, saturation and tone curves, inside or outside.',
  group: 'Colour',
  ...onPicture,
  usual: 'inside',
  parameters: {
    exposure: number('Exposure', 'stops', [-8, 8, 0.05], 0, 'Light doubled or halved per stop.'),
    contrast: number('Contrast', '%', [0, 3, 0.01], 1, 'Spread of the tones about middle grey.'),
    temperature: number('Temperature', 'K', [2000, 20000, 50], 6500, 'Colour of the light: lower is warmer.'),
    tint: number('Tint', '', [-1, 1, 0.01], 0, 'To green below 0, to magenta above.'),
    hue: number('Hue', '°', [-180, 180, 1], 0, 'Turns all colours around.'),
    saturation: number('Saturation', '%', [0, 4, 0.01], 1, 'From grey to vivid.'),
    all: tone('All', 'Tone curve of all channels, on the encoded values.'),
    red: tone('Red', 'Tone curve of red.'),
    green: tone('Green', 'Tone curve of green.'),
    blue: tone('Blue', 'Tone curve of blue.'),
  },
  sentence: 'Grade {region} by {exposure}, saturation {saturation} {range}',
})
