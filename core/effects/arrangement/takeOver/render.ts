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
    for (let y = 0, i = 0, to = 0; y < region.height; y++)
      for (let x = 0, from = rowOf(y); x < region.width; x++, i++, from += 4, to += 4) {
        const share = 1 - left[i]!
        if (share === 0) continue
        // Light of the rim lies on both.
        const burning = 4 * share * (1 - share)
        data[to] = picture[from]! * share + burning * rim[0]!
        data[to + 1] = picture[from + 1]! * share + burning * rim[1]!
        data[to + 2] = picture[from + 2]! * share + burning * rim[2]!
        data[to + 3] = picture[from + 3]! * share
      }
  },
})
