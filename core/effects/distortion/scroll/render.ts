import { movedFirst, warpAffine } from '../../../pixels/filters/warp.ts'
import { rendererOf } from '../../effect.ts'
import { scroll } from './scroll.ts'

export const renderScroll = rendererOf(scroll, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw({ settings, scratch, size }, image) {
    const shiftX = settings.across * size.width
    const shiftY = settings.down * size.height
    const map = movedFirst([1, 0, 0, 1, 0, 0], -shiftX, -shiftY)
    warpAffine(image, map, settings.edge, scratch)
  },
})
