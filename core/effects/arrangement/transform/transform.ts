import { choice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape, shutterSettings, smeared } from '../../shared/forms.ts'

export const transform = defineEffect('transform', {
  title: 'Transform',
  summary: 'Cuts a layer out by its region and moves, turns or grows it.',
  group: 'Arrangement',
  rides: anyShape,
  alone: true,
  region: 'source',
  makes: 'picture',
  blend: 'normal',
  moves: 'byItsSettings',
  parameters: {
    x: number('Across', 'px', [-8000, 8000, 1], 0, 'Moved to the right.'),
    y: number('Down', 'px', [-8000, 8000, 1], 0, 'Moved down.'),
    turn: number('Turn', '°', [-3600, 3600, 1], 0, 'Turned about its middle, clockwise.'),
    size: number('Size', '%', [0.01, 20, 0.01], 1, 'Grown or shrunk about its middle.'),
    behind: choice(
      'Leaves',
      { picture: 'the picture as it was', black: 'black' },
      'What is seen where the layer has left.',
    ),
    ...shutterSettings,
  },
  sentence: (settings) =>
    `Transform {region} by {x}, {y}, turned {turn}, sized {size} about {target}${smeared(settings)} {behind} {range}`,
})
