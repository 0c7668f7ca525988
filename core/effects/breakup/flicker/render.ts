import { hashed, noise1 } from '../../../pixels/filters/noise.ts'
import { span } from '../../../pixels/kernels/interface.ts'
import { rendererOf } from '../../effect.ts'
import { mix } from '../../shared/tools.ts'
import { flicker } from './flicker.ts'

export const renderFlicker = rendererOf(flicker, {
  sampleRadius: () => 0,
  draw(context, { data }) {
    const { settings, frame, scratch } = context
    const seed = settings.seed
    const time = frame * settings.rate
    const way = settings.way
    const up =
      way === 'wavering'
        ? noise1(time, seed)
        : way === 'jumping'
          ? hashed(Math.floor(time), seed)
          : hashed(Math.floor(time), seed) < 0.5
            ? 0
            : 1
    const tint = context.colour(settings.tint)
    const { amount, lift } = settings
    const [r, g, b] = tint.map((v) => mix(1 - amount, 1 + lift, up) * mix(1, v, up)) as [number, number, number]
    scratch.kernels.addTinted(span(data), span(data), data.length / 4, [r - 1, g - 1, b - 1, 0])
  },
})
