import { warp } from '../../pixels/filters/warp.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import { edgeChoice, number, plain, word } from '../../parameters/builders.ts'
import { aboutSomebody } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect } from '../shared/place.ts'
import { meshStep } from '../shared/tools.ts'

const p = {
  strength: number('strength', 'Bulge', '%', [-1, 1, 0.01], 0.5, 'Bulges out; below 0 it pinches.'),
  radius: number(
    'radius',
    'Radius',
    'px',
    [5, 6000, 5],
    260,
    'How far from the middle it reaches, over the whole frame and beyond.',
  ),
}

export const lens: EffectKind = {
  kind: 'lens',
  title: 'Lens',
  summary: 'Bulges or pinches the picture about a member, from nothing to far over the frame.',
  group: 'Distortion',
  ...aboutSomebody,
  parameters: [p.strength, p.radius, edgeChoice],
  sentence: () => [
    { text: 'Lens of' },
    { setting: 'strength' },
    { text: 'about' },
    { field: 'target' },
    { text: 'within' },
    { setting: 'radius' },
    { field: 'region' },
    { field: 'range' },
  ],
  looks: () => Infinity,
  render(context, image) {
    const { settings, scale, scratch } = context
    const { x: cx, y: cy } = centreOfEffect(context)
    const radius = plain(settings, p.radius) * scale
    // r^(1 + s) for a bulge, its inverse for a pinch: both leave the rim where it is.
    const strength = plain(settings, p.strength)
    const power = strength >= 0 ? strength : 1 / (1 - Math.min(0.95, -strength)) - 1
    const sign = strength >= 0 ? 1 : -1
    warp(
      image,
      {
        where: (x, y, out) => {
          const [dx, dy] = [x - cx, y - cy]
          const u = Math.sqrt(dx * dx + dy * dy) / radius
          const ratio = u >= 1 || u <= 0 ? 1 : sign > 0 ? u ** power : u ** (1 / (1 + power) - 1)
          out[0] = cx + dx * ratio
          out[1] = cy + dy * ratio
        },
        step: meshStep(context),
      },
      word(settings, edgeChoice) as BorderMode,
      scratch,
    )
  },
}
