import { movedFirst, warpAffine } from '../../pixels/filters/warp.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import { choice, number, plain, word } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'

const p = {
  across: number(
    'across',
    'Across',
    '%',
    [-20, 20, 0.01],
    0.3,
    'Picture widths that the picture has slid to the right; key it.',
  ),
  down: number('down', 'Down', '%', [-20, 20, 0.01], 0, 'Picture heights that it has slid down.'),
  edge: choice(
    'edge',
    'Past the edge',
    { repeated: 'repeated', mirrored: 'mirrored', stretched: 'stretched' },
    'What follows the picture.',
  ),
}

export const scroll: EffectKind = {
  kind: 'scroll',
  title: 'Scroll',
  summary: 'The surroundings slide past, by several picture widths if need be.',
  group: 'Distortion',
  ...onPicture,
  parameters: Object.values(p),
  sentence: () => [
    { text: 'Scroll' },
    { field: 'region' },
    { text: 'by' },
    { setting: 'across' },
    { text: 'of its width,' },
    { setting: 'edge' },
    { field: 'range' },
  ],
  looks: () => Infinity,
  render({ settings, scratch, size }, image) {
    const shiftX = plain(settings, p.across) * size.width
    const shiftY = plain(settings, p.down) * size.height
    const map = movedFirst([1, 0, 0, 1, 0, 0], -shiftX, -shiftY)
    warpAffine(image, map, word(settings, p.edge) as BorderMode, scratch)
  },
}
