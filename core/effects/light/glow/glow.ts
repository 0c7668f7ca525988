import { choice, colour, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { laidOn } from '../../shared/forms.ts'

export const glow = defineEffect('glow', {
  title: 'Glow',
  summary: 'Soft light around shapes or around the bright places of the picture, in one or two colours.',
  group: 'Light',
  rides: null,
  alone: true,
  region: 'source',
  makes: 'layer',
  blend: 'screen',
  parameters: {
    strength: number('Strength', '%', [0, 8, 0.01], 1, 'All of the glow together.'),
    from: choice(
      'Comes from',
      { shape: 'the shape itself', bright: 'bright places' },
      'Whether the whole shape glows or only what is bright in the picture.',
    ),
    threshold: number('Bright from', '%', [0, 1, 0.01], 0.7, 'Brightness from which a place glows.'),
    near: number('Near halo', 'px', [0, 400, 1], 12, 'How far the inner halo fades.'),
    nearColour: colour('Near colour', '#fff3d6', 'Colour of the inner halo.'),
    far: number('Far halo', 'px', [0, 600, 1], 70, 'How far the outer halo fades.'),
    farColour: colour('Far colour', '#ff9d3c', 'Colour of the outer halo.'),
    share: number('Far share', '%', [0, 1, 0.01], 0.5, 'How much of the light is in the outer halo.'),
    core: number('Burning core', '%', [0, 4, 0.01], 0, 'Light of the shape itself under its glow.'),
  },
  sentence: `Glow of {from} {region} in {nearColour} and {farColour} ${laidOn}`,
})
