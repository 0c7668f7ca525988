import { choice, number, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const lag = defineEffect('lag', {
  title: 'Lag',
  summary: 'The surroundings as they were some frames ago, or many of them laid together, while somebody goes on.',
  group: 'Arrangement',
  ...onPicture,
  usual: 'outside',
  parameters: {
    back: number('Behind', 'frames', [-240, 240, 1], 12, 'How many frames ago it was; below 0 it is still to come.'),
    count: still('Pictures', '', [1, 12, 1], 1, 'How many of them are laid together.'),
    gap: still('Apart', 'frames', [1, 48, 1], 3, 'Frames between them, back from the first.'),
    together: choice(
      'Laid together',
      { mean: 'evenly', bright: 'the brightest of them', dark: 'the darkest of them' },
      'What is seen of several.',
    ),
    strength: number('Strength', '%', [0, 1, 0.01], 1, 'How much of it is seen over the present.'),
  },
  sentence: ({ count }) =>
    count > 1
      ? 'Lag of {region} by {back}, {count} pictures {gap} apart {together} {range}'
      : 'Lag of {region} by {back} {range}',
})
