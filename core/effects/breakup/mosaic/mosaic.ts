import { choice, number } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const mosaic = defineEffect('mosaic', {
  title: 'Mosaic',
  summary: 'Tiles of one colour each: the mean of what they cover.',
  group: 'Breakup',
  ...onPicture,
  usual: 'outside',
  parameters: {
    size: number('Tile', 'px', [4, 400, 4], 24, 'Side of a tile.'),
    form: choice('Form', { square: 'squares', brick: 'bricks', hexagon: 'hexagons' }, 'Form of the tiles.'),
  },
  sentence: 'Mosaic of {size} {form} {region} {range}',
})
