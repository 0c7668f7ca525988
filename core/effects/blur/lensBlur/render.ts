import { luminanceAt } from '../../../pixels/colour/luminance.ts'
import { blurDisc } from '../../../pixels/filters/disc.ts'
import { rendererOf } from '../../effect.ts'
import { ramp } from '../../shared/tools.ts'
import { lensBlur } from './lensBlur.ts'

export const renderLensBlur = rendererOf(lensBlur, {
  sampleRadius: ({ settings, scale }) => settings.radius * scale + 2,
  draw({ settings, scale, scratch }, { data, region }) {
    const { sparkle, threshold } = settings
    if (sparkle > 0)
      for (let i = 0; i < data.length; i += 4) {
        const gain = 1 + sparkle * ramp(threshold, threshold + 0.3, luminanceAt(data, i))
        if (gain > 1) for (let c = 0; c < 3; c++) data[i + c]! *= gain
      }
    blurDisc({ data, width: region.width, height: region.height }, settings.radius * scale, scratch)
  },
})
