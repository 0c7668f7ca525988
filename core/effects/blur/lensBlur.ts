import { luminanceAt } from '../../pixels/colour/luminance.ts'
import { blurDisc } from '../../pixels/filters/disc.ts'
import { number, plain } from '../../parameters/builders.ts'
import { onPicture } from '../shared/forms.ts'
import type { EffectKind } from '../effect.ts'
import { ramp } from '../shared/tools.ts'

const p = {
  radius: number('radius', 'Disc', 'px', [0, 200, 0.5], 12, 'Radius of the disc that a point becomes.'),
  sparkle: number(
    'sparkle',
    'Sparkle',
    '×',
    [0, 20, 0.1],
    2,
    'How much brighter bright places are, so that discs stand out.',
  ),
  threshold: number('threshold', 'Bright from', '%', [0, 1, 0.01], 0.6, 'Light from which a place sparkles.'),
}

export const lensBlur: EffectKind = {
  kind: 'lensBlur',
  title: 'Lens blur',
  summary: 'Out of focus as through a lens: every bright point becomes a disc.',
  group: 'Blur',
  ...onPicture,
  parameters: Object.values(p),
  sentence: () => [{ text: 'Lens blur of' }, { setting: 'radius' }, { field: 'region' }, { field: 'range' }],
  looks: ({ settings, scale }) => plain(settings, p.radius) * scale + 2,
  render({ settings, scale, scratch }, { data, region }) {
    const sparkle = plain(settings, p.sparkle)
    const threshold = plain(settings, p.threshold)
    if (sparkle > 0)
      for (let i = 0; i < data.length; i += 4) {
        const gain = 1 + sparkle * ramp(threshold, threshold + 0.3, luminanceAt(data, i))
        if (gain > 1) for (let c = 0; c < 3; c++) data[i + c]! *= gain
      }
    blurDisc({ data, width: region.width, height: region.height }, plain(settings, p.radius) * scale, scratch)
  },
}
