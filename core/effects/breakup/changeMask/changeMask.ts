import { choice, colour, number, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const changeMask = defineEffect('changeMask', {
  title: 'Change mask',
  summary: 'Lights up what differs from some frames ago.',
  group: 'Breakup',
  ...onPicture,
  parameters: {
    ago: still('Frames ago', 'frames', [1, 48, 1], 2, 'Which picture it is compared with.'),
    threshold: number('Counts from', '%', [0, 1, 0.005], 0.06, 'Smaller changes are noise.'),
    soften: number('Softness', 'px', [0, 200, 1], 6, 'Softness of the mask.'),
    strength: number('Light', '×', [0, 20, 0.1], 2, 'Brightness of what changes.'),
    tint: colour('Colour', '#9dffd0', 'Colour of what changes.'),
    shows: choice(
      'Shows',
      { light: 'light on the picture', only: 'what changes alone', mask: 'the mask' },
      'What is seen of it.',
    ),
  },
  sentence: 'Change {region} since {ago} ago in {tint} as {shows} {range}',
})
