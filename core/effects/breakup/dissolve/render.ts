import { noRect } from '../../../geometry/rect.ts'
import { span } from '../../../pixels/kernels/interface.ts'
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
    context.scratch.kernels.burnPixels(span(left), span(data), left.length, [...to, 1], rim)
  },
})
