import { noRect } from '../../../geometry/rect.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { leftOver, rimLight } from '../../shared/dissolveOrder.ts'
import { wholePicture } from '../../shared/place.ts'
import { dissolve } from './dissolve.ts'

const rowsAtOnce = 64

export const renderDissolve = rendererOf(dissolve, {
  bounds: (context) => (context.settings.amount > 0 ? wholePicture(context) : noRect),
  sampleRadius: () => 0,
  draw(context, { data, region }) {
    const { settings } = context
    const to = context.colour(settings.to)
    const rim = rimLight(context)
    const amount = settings.amount
    const { kernels } = context.scratch
    // So many rows at once stay near the processor from one step to the next.
    for (let y = 0; y < region.height; y += rowsAtOnce) {
      const part = { ...region, y: region.y + y, height: Math.min(rowsAtOnce, region.height - y) }
      const left = leftOver(context, settings.by, amount, part, { data, region })
      kernels.burnPixels(span(left), span(data, 4 * y * region.width), left.length, [...to, 1], rim)
    }
  },
})
