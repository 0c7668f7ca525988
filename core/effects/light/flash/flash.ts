import { choice, colour, frameList, member, number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { lightOfSomebody } from '../../shared/forms.ts'

export const flash = defineEffect('flash', {
  title: 'Contact flash',
  summary: 'A burst of light where two props meet: nothing before, full at once, gone two frames later.',
  group: 'Light',
  ...lightOfSomebody,
  parameters: {
    strength: number('Strength', '×', [0, 20, 0.1], 3, 'Light in the middle of the flash.'),
    size: number('Size', 'px', [2, 1000, 1], 90, 'Radius in which most of the light lies.'),
    tint: colour('Colour', '#ffd9a0', 'Colour of the light around its white middle.'),
    fade: number('Gone after', 'frames', [1, 48, 1], 2, 'Frames after the contact on which nothing is left.'),
    streaks: number('Streaks', '', [0, 24, 1], 6, 'Lines of light that cross its middle.'),
    streakLength: number('Streak length', '×', [0, 12, 0.1], 3, 'Their length, in sizes of the flash.'),
    when: choice(
      'When',
      { contacts: 'at every contact', frames: 'on chosen frames' },
      'Contacts are found from the traced motion.',
    ),
    frames: frameList('Frames', 'Frames of the flashes, as in 12, 40, 61.'),
    other: member('Meets', 'Whom it has to touch.'),
    seed: seedNumber,
  },
  wishes: {
    'When it comes': ['when', 'frames', 'other', 'fade'],
    'How it burns': ['strength', 'size', 'tint', 'streaks', 'streakLength', 'seed'],
  },
  sentence: (settings) =>
    `Flash {when} ${settings.when === 'frames' ? '{frames} at' : 'of'} {target} with {other}, gone after {fade} {behind} laid on with {blend} at {opacity}`,
})
