import { number, seedNumber, still } from '../../../parameters/builders.ts'
import { defineEffect } from '../../effect.ts'
import { onPicture } from '../../shared/forms.ts'

export const dabs = defineEffect('dabs', {
  title: 'Dabs',
  summary: 'Paints the picture anew in strokes of a chosen size.',
  group: 'Breakup',
  ...onPicture,
  usual: 'inside',
  parameters: {
    size: number('Dab', 'px', [4, 120, 1], 16, 'Length of a stroke.'),
    slim: number('Slimness', '%', [0, 0.9, 0.01], 0.55, 'From round dabs to slim strokes.'),
    strength: number('Paint', '%', [0, 1, 0.01], 1, 'How much of the picture is painted over.'),
    vary: number('Colour play', '%', [0, 1, 0.01], 0.15, 'How far the colours of strokes differ.'),
    hold: number('Holds', 'frames', [1, 24, 1], 2, 'Frames until it is painted anew.'),
    layers: still('Layers', '', [1, 4, 1], 2, 'Coats of paint, each finer than the one below.'),
    seed: seedNumber,
  },
  sentence: 'Paint {region} in dabs of {size} {range}',
})
