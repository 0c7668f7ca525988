import { choice, colour, number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { anyShape } from '../../shared/forms.ts'

export const blockScatter = defineEffect('blockScatter', {
  title: 'Block scatter',
  summary: 'Bursts a shape into blocks that fly the farther the brighter they are, and glow.',
  group: 'Distortion',
  rides: anyShape,
  alone: true,
  region: 'source',
  makes: 'picture',
  blend: 'normal',
  parameters: {
    amount: number('Push', 'px', [0, 3000, 1], 120, 'How far the brightest blocks fly.'),
    size: number('Block', 'px', [4, 200, 4], 16, 'Side of a block.'),
    threshold: number('Bright from', '%', [0, 1, 0.01], 0.1, 'Darker blocks stay where they are.'),
    spread: number('Disorder', '%', [0, 1, 0.01], 0.5, 'From straight away from the middle to any direction.'),
    angle: number('Drift', '°', [-180, 180, 1], -90, 'Where to all of them drift; −90 is upwards.'),
    drift: number('Drift length', '%', [0, 2, 0.01], 0.3, 'How much of the push goes that way.'),
    shrink: number('Shrink', '%', [0, 1, 0.01], 0.4, 'How much smaller they are at the end of the push.'),
    glow: number('Glow', '×', [0, 20, 0.1], 2, 'Light of the flying blocks.'),
    tint: colour('Glow colour', '#8fdcff', 'Colour that they take on.'),
    even: number('Dark ones too', '%', [0, 1, 0.01], 0, 'From the bright ones first to all of them alike.'),
    stay: number('Stays behind', '%', [0, 1, 0.01], 1, 'How much of the picture stays where blocks have left.'),
    behind: choice(
      'Behind it',
      { black: 'black', next: 'the next shot, where they are joined' },
      'What is seen where the picture does not stay.',
    ),
    seed: seedNumber,
  },
  wishes: {
    'How far they fly': ['amount', 'spread', 'angle', 'drift', 'shrink'],
    'Which blocks': ['size', 'threshold', 'even', 'seed'],
    'How they look': ['glow', 'tint'],
    'What stays': ['stay', 'behind'],
  },
  sentence: 'Scatter {region} in blocks of {size} by {amount} from {target} {range}',
})
