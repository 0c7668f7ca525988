import { warp } from '../../pixels/filters/warp.ts'
import { edgeChoice, number, plain, word } from '../../parameters/builders.ts'
import { aboutSomebody } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect } from '../shared/place.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import { meshStep, radians } from '../shared/tools.ts'

const p = {
  angle: number('angle', 'Twist', '°', [-1440, 1440, 1], 120, 'How far the middle turns.'),
  radius: number('radius', 'Radius', 'px', [5, 4000, 5], 300, 'How far from the middle it reaches.'),
}

export const twist: EffectKind = {
  kind: 'twist',
  title: 'Twist',
  summary: 'Winds the picture up about a member.',
  group: 'Distortion',
  ...aboutSomebody,
  parameters: [p.angle, p.radius, edgeChoice],
  sentence: () => [
    { text: 'Twist by' },
    { setting: 'angle' },
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
    const whole = radians(plain(settings, p.angle))
    warp(
      image,
      {
        where: (x, y, out) => {
          const [dx, dy] = [x - cx, y - cy]
          const r = Math.sqrt(dx * dx + dy * dy)
          if (r >= radius) {
            out[0] = x
            out[1] = y
            return
          }
          // Smooth to the rim: nothing tears there.
          const u = 1 - r / radius
          const angle = -whole * u * u
          const [c, s] = [Math.cos(angle), Math.sin(angle)]
          out[0] = cx + c * dx - s * dy
          out[1] = cy + s * dx + c * dy
        },
        step: meshStep(context),
      },
      word(settings, edgeChoice) as BorderMode,
      scratch,
    )
  },
}
