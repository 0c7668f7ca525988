import { inflate, intersect, isEmpty, noRect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { blurPicture } from '../../../pixels/filters/blur.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { brightness, ramp } from '../../shared/tools.ts'
import { wrap } from './wrap.ts'

const slots = { cover: new Slot(), light: new Slot() }

const sigmaOf = ({ settings, scale }: ContextOf<typeof wrap>) => (settings.width / 2) * scale

/** What lies outside, blurred, and seen inside: as much of it as a lens would let stray around the edge. */
export const renderWrap = rendererOf(wrap, {
  bounds(context) {
    if (context.settings.strength <= 0 || context.everywhere) return noRect
    return context.regionBounds()
  },
  seesPicture: () => true,
  sampleRadius: (context) => 4 * sigmaOf(context),
  draw(context, { data, region, under }) {
    const { settings, scratch } = context
    const sigma = sigmaOf(context)
    const rect = intersect(inflate(region, Math.ceil(4 * sigma)), under!.region)
    if (isEmpty(rect)) return
    const cover = context.region(rect, slots.cover)
    const light = scratch.floats(slots.light, 4 * rect.width * rect.height)
    const { threshold, strength } = settings
    for (let y = 0, i = 0; y < rect.height; y++) {
      let from = 4 * ((rect.y + y - under!.region.y) * under!.region.width + rect.x - under!.region.x)
      for (let x = 0; x < rect.width; x++, i++, from += 4) {
        const bright = threshold > 0 ? ramp(threshold, threshold + 0.1, brightness(context, under!.data, from)) : 1
        const share = (1 - cover[i]!) * bright
        for (let c = 0; c < 3; c++) light[4 * i + c] = under!.data[from + c]! * share
        light[4 * i + 3] = 0
      }
    }
    blurPicture({ data: light, width: rect.width, height: rect.height }, sigma, 'stretched', scratch)
    for (let y = 0; y < region.height; y++) {
      const row = region.y + y - rect.y
      if (row < 0 || row >= rect.height) continue
      for (let x = 0; x < region.width; x++) {
        const column = region.x + x - rect.x
        if (column < 0 || column >= rect.width) continue
        const i = row * rect.width + column
        // Half of what comes is seen at the edge itself: there it is to be all of it.
        const share = 2 * strength * cover[i]!
        const to = 4 * (y * region.width + x)
        for (let c = 0; c < 3; c++) data[to + c] = share * light[4 * i + c]!
      }
    }
  },
})
