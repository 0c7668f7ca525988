import { number, seedNumber } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const signalTear = defineEffect('signalTear', {
  title: 'Signal tear',
  summary: 'A failing signal: torn slices, lost blocks and shifted colours.',
  group: 'Breakup',
  ...onPicture,
  parameters: {
    slices: number('Torn slices', '%', [0, 1, 0.01], 0.35, 'Share of the slices that are torn aside.'),
    height: number('Slice', 'px', [2, 300, 2], 24, 'Height of a slice.'),
    shift: number('Shift', 'px', [0, 1000, 2], 60, 'How far a slice is torn aside.'),
    blocks: number('Lost blocks', '%', [0, 1, 0.01], 0.06, 'Share of the blocks that show another place.'),
    colours: number('Colour shift', 'px', [0, 200, 1], 8, 'How far the colours of torn slices come apart.'),
    hold: number('Holds', 'frames', [1, 24, 1], 2, 'Frames until it tears anew.'),
    seed: seedNumber,
  },
  sentence: 'Tear {slices} of the signal {region} by {shift} {range}',
})
