import { noRect } from '../../../geometry/rect.ts'
import { rendererOf } from '../../effect.ts'
import { leftOver, rimLight } from '../../shared/dissolveOrder.ts'
import { wholePicture } from '../../shared/place.ts'
import { dissolve } from './dissolve.ts'

export const renderDissolve = rendererOf(dissolve, {
  bounds: (context) => (context.settings.amount > 0 ? wholePicture(context) : noRect),
  sampleRadius: () => 0,
  draw(context, { data, region }) {
    const { settings } = context
    const to = context.colour(settings.to)
    const rim = rimLight(context)
    const amount = settings.amount
    const left = leftOver(context, settings.by, amount, region, { data, region })
    const [r, g, b] = to as [number, number, number]
    for (let i = 0, at = 0; i < left.length; i++, at += 4) {
      const share = left[i]!
      if (share === 1) continue
      const burning = 4 * share * (1 - share)
      data[at] = r + (data[at]! - r) * share + burning * rim[0]!
      data[at + 1] = g + (data[at + 1]! - g) * share + burning * rim[1]!
      data[at + 2] = b + (data[at + 2]! - b) * share + burning * rim[2]!
    }
  },
})
