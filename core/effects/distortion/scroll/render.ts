import { type Affine, movedFirst, warpAffine } from '../../../pixels/filters/warp.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { affineShading } from '../../shared/warpShading.ts'
import { scroll } from './scroll.ts'

export const renderScroll = rendererOf(scroll, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw(context, image) {
    warpAffine(image, mapOf(context), context.settings.edge, context.scratch)
  },
  shade: (context) => affineShading(mapOf(context), context.settings.edge),
})

const mapOf = ({ settings: { across, down }, size }: ContextOf<typeof scroll>): Affine =>
  movedFirst([1, 0, 0, 1, 0, 0], -across * size.width, -down * size.height)
