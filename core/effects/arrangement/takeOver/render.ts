import { noRect } from '../../../geometry/rect.ts'
import { fitted } from '../../../pixels/filters/fit.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { leftOver, rimLight } from '../../shared/dissolveOrder.ts'
import { wholePicture } from '../../shared/place.ts'
import { takeOver } from './takeOver.ts'

export const renderTakeOver = rendererOf(takeOver, {
  bounds: (context) => (context.joined && context.settings.amount > 0 ? wholePicture(context) : noRect),
  needs: (settings, frame) => (settings.amount > 0 ? [{ media: 'next', frame }] : []),
  seesPicture: () => true,
  draw(context, { data, region, under }) {
    const { settings, frame, scratch, size } = context
    const next = context.picture({ media: 'next', frame })
    if (!next) return
    const picture = fitted(next, size, scratch)
    const { width } = size
    const { amount, by } = settings
    const { kernels } = scratch
    const rowOf = (y: number) => 4 * ((region.y + y) * width + region.x)
    if (by === 'evenly') {
      const share = Math.min(1, amount)
      for (let y = 0; y < region.height; y++)
        kernels.addTinted(span(picture, rowOf(y)), span(data, 4 * y * region.width), region.width, [
          share,
          share,
          share,
          share,
        ])
      return
    }
    const left = leftOver(context, by, amount, region, under ?? { data, region })
    const rim = rimLight(context)
    // Of the next picture is left what of this one has gone. The rim's light lies on both.
    for (let i = 0; i < left.length; i++) left[i] = 1 - left[i]!
    for (let y = 0; y < region.height; y++) {
      const to = 4 * y * region.width
      data.set(picture.subarray(rowOf(y), rowOf(y) + 4 * region.width), to)
      kernels.burnPixels(span(left, y * region.width), span(data, to), region.width, [0, 0, 0, 0], rim)
    }
  },
})
