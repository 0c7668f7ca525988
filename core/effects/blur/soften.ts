import { blurPicture } from '../../pixels/filters/blur.ts'
import { blurAlong } from '../../pixels/filters/directional.ts'
import { choice, number, plain, word } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'

const p = {
  amount: number('amount', 'Blur', 'px', [0, 400, 0.5], 18, 'How far an edge is spread: its fade from end to end.'),
  way: choice(
    'way',
    'Direction',
    { both: 'all around', across: 'sideways', down: 'up and down', angle: 'at an angle' },
    'Where to the picture is spread.',
  ),
  angle: number('angle', 'Angle', '°', [-180, 180, 1], 30, 'Direction of the blur at an angle; 0 is sideways.'),
}

export const soften: EffectKind = {
  kind: 'soften',
  title: 'Soften',
  summary: 'Blurs the picture all around, sideways, up and down or at an angle.',
  group: 'Blur',
  ...onPicture,
  parameters: [p.amount, p.way, p.angle],
  sentence: () => [
    { text: 'Soften by' },
    { setting: 'amount' },
    { setting: 'way' },
    { field: 'region' },
    { field: 'range' },
  ],
  looks: ({ settings, scale }) => 1.75 * plain(settings, p.amount) * scale + 2,
  render({ settings, scale, scratch }, { data, region }) {
    const sigma = (plain(settings, p.amount) / 2) * scale
    const way = word(settings, p.way)
    const { width, height } = region
    if (way === 'angle') {
      const angle = (plain(settings, p.angle) * Math.PI) / 180
      blurAlong({ data, width, height }, sigma, Math.atan2(Math.sin(angle), Math.cos(angle)), scratch)
    } else
      blurPicture(
        { data, width, height },
        { x: way === 'down' ? 0 : sigma, y: way === 'across' ? 0 : sigma },
        'stretched',
        scratch,
      )
  },
}
