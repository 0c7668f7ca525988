import { warp } from '../../pixels/filters/warp.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import { edgeChoice, number, plain, word } from '../../parameters/builders.ts'
import { aboutSomebody } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect, wholePicture } from '../shared/place.ts'
import { meshStep } from '../shared/tools.ts'

const p = {
  bend: number('bend', 'Bend', '%', [-1, 1, 0.01], 0.3, 'Straight lines bow outwards; below 0 inwards.'),
  zoom: number('zoom', 'Zoom', '×', [0.2, 4, 0.01], 1, 'Larger, to leave the bent edge outside.'),
}

export const barrel: EffectKind = {
  kind: 'barrel',
  title: 'Barrel bend',
  summary: 'Bends the whole picture outwards or inwards as a wide lens does.',
  group: 'Distortion',
  ...aboutSomebody,
  parameters: [p.bend, p.zoom, edgeChoice],
  sentence: () => [
    { text: 'Barrel bend of' },
    { setting: 'bend' },
    { text: 'about' },
    { field: 'target' },
    { field: 'region' },
    { field: 'range' },
  ],
  reach: wholePicture,
  looks: () => Infinity,
  render(context, image) {
    const { settings, scratch, size } = context
    const { x: cx, y: cy } = centreOfEffect(context)
    // Radial distortion r' = r (1 + k r^2), r in half diagonals (Brown 1966, first term).
    const unit = 4 / (size.width ** 2 + size.height ** 2)
    const k = plain(settings, p.bend)
    const zoom = 1 / plain(settings, p.zoom)
    warp(
      image,
      {
        where: (x, y, out) => {
          const [dx, dy] = [(x - cx) * zoom, (y - cy) * zoom]
          const ratio = 1 + k * (dx * dx + dy * dy) * unit
          out[0] = cx + dx * ratio
          out[1] = cy + dy * ratio
        },
        step: meshStep(context, 8),
      },
      word(settings, edgeChoice) as BorderMode,
      scratch,
    )
  },
}
