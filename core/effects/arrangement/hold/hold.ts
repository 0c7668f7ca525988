import { still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const hold = defineEffect('hold', {
  title: 'Hold',
  summary: 'The picture stands still in a region while everything else goes on.',
  group: 'Arrangement',
  ...onPicture,
  parameters: {
    at: still(
      'Held frame',
      'frames',
      [0, 19999, 1],
      0,
      'The picture that stands still, with what the cards before this one make of it.',
    ),
    step: still('Renewed every', 'frames', [0, 96, 1], 0, 'A new picture every so many frames; 0 holds the one.'),
  },
  sentence: (settings) =>
    `Hold ${settings.step > 0 ? 'a picture for {step}' : 'the picture of frame {at}'} {region} {behind} {range}`,
})
