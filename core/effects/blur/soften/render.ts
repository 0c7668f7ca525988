import { blurPicture } from '../../../pixels/filters/blur.ts'
import { blurAlong } from '../../../pixels/filters/directional.ts'
import { rendererOf } from '../../effect.ts'
import { soften } from './soften.ts'

export const renderSoften = rendererOf(soften, {
  sampleRadius: ({ settings, scale }) => 1.75 * settings.amount * scale + 2,
  draw({ settings, scale, scratch }, { data, region }) {
    const sigma = (settings.amount / 2) * scale
    const way = settings.way
    const { width, height } = region
    if (way === 'angle') {
      const angle = (settings.angle * Math.PI) / 180
      blurAlong({ data, width, height }, sigma, Math.atan2(Math.sin(angle), Math.cos(angle)), scratch)
    } else
      blurPicture(
        { data, width, height },
        { x: way === 'down' ? 0 : sigma, y: way === 'across' ? 0 : sigma },
        'stretched',
        scratch,
      )
  },
})
