import { choice, colour, number, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { fromRegion } from '../../shared/forms.ts'

export const echo = defineEffect('echo', {
  title: 'Echo',
  summary: 'Past copies of a performer, cut out by their own shapes then.',
  group: 'Arrangement',
  ...fromRegion,
  parameters: {
    count: still('Copies', '', [1, 12, 1], 4, 'How many past ones are seen.'),
    gap: still('Apart', 'frames', [1, 48, 1], 4, 'Frames between them.'),
    strength: number('Nearest', '%', [0, 1, 0.01], 0.7, 'Opacity of the nearest copy.'),
    fade: number('Fading', '%', [0, 1, 0.01], 0.6, 'How much fainter the farthest one is.'),
    tint: colour('Tint', '#9fd0ff', 'Colour that they take on.'),
    tinted: number('Tinted', '%', [0, 1, 0.01], 0.4, 'How much of it the farthest one takes.'),
    order: choice(
      'Lie',
      { behind: 'behind the present one', front: 'in front' },
      'Whether they cover the present one.',
    ),
  },
  sentence: '{count} echoes of {region} {gap} apart, tinted {tint} {order} {behind} {range}',
})
