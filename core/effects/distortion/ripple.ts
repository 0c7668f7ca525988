import { clouds } from '../../pixels/filters/noise.ts'
import { warp } from '../../pixels/filters/warp.ts'
import type { BorderMode } from '../../pixels/buffers/border.ts'
import { choice, edgeChoice, number, plain, seedNumber, word } from '../../parameters/builders.ts'
import { aboutSomebody } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { centreOfEffect } from '../shared/place.ts'
import { meshStep } from '../shared/tools.ts'

const p = {
  form: choice(
    'form',
    'Form',
    { rings: 'rings', waves: 'waves', haze: 'heat haze' },
    'Rings about a member, waves across, or rising air.',
  ),
  amount: number('amount', 'Amount', 'px', [0, 200, 0.5], 8, 'How far places are pushed.'),
  size: number('size', 'Wave length', 'px', [4, 1000, 1], 60, 'From crest to crest, or the size of a swirl.'),
  speed: number('speed', 'Speed', 'px', [-100, 100, 0.5], 4, 'Pixels a frame that the waves run, or the air rises.'),
  radius: number('radius', 'Rings within', 'px', [10, 6000, 10], 900, 'Where rings have died down.'),
  seed: seedNumber,
}

export const ripple: EffectKind = {
  kind: 'ripple',
  title: 'Ripple and haze',
  summary: 'Rings, waves or the shimmer of hot air.',
  group: 'Distortion',
  ...aboutSomebody,
  parameters: [...Object.values(p), edgeChoice],
  sentence: () => [
    { text: 'Ripple in' },
    { setting: 'form' },
    { text: 'of' },
    { setting: 'amount' },
    { text: 'about' },
    { field: 'target' },
    { field: 'region' },
    { field: 'range' },
  ],
  looks: ({ settings, scale }) => plain(settings, p.amount) * scale + 2,
  render(context, image) {
    const { settings, scale, scratch, frame } = context
    const { x: cx, y: cy } = centreOfEffect(context)
    const amount = plain(settings, p.amount) * scale
    const size = plain(settings, p.size) * scale
    const run = (plain(settings, p.speed) * scale * frame) / size
    const form = word(settings, p.form)
    const radius = plain(settings, p.radius) * scale
    const seed = plain(settings, p.seed)
    warp(
      image,
      {
        where: (x, y, out) => {
          if (form === 'rings') {
            const [dx, dy] = [x - cx, y - cy]
            const r = Math.sqrt(dx * dx + dy * dy)
            const fall = r < radius ? 1 - r / radius : 0
            const push = r > 0 ? (amount * fall * Math.sin(2 * Math.PI * (r / size - run))) / r : 0
            out[0] = x + dx * push
            out[1] = y + dy * push
          } else if (form === 'waves') {
            out[0] = x + amount * Math.sin(2 * Math.PI * (y / size - run))
            out[1] = y + amount * 0.4 * Math.sin(2 * Math.PI * (x / size / 1.7 - run))
          } else {
            const [nx, ny] = [x / size, y / size / 1.6 + run]
            out[0] = x + amount * 2 * (clouds(nx, ny, seed, 2) - 0.5)
            out[1] = y + amount * (clouds(nx, ny, seed + 500, 2) - 0.5)
          }
        },
        step: meshStep(context, plain(settings, p.size) >= 64 ? 8 : plain(settings, p.size) / 12),
      },
      word(settings, edgeChoice) as BorderMode,
      scratch,
    )
  },
}
