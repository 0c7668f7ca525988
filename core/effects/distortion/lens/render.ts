import { rendererOf } from '../../effect.ts'
import { radialWarp } from '../../shared/radialWarp.ts'
import { lens } from './lens.ts'

export const renderLens = rendererOf(lens, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw(context, image) {
    const { strength } = context.settings
    const radius = context.settings.radius * context.scale
    // r^(1 + s) for a bulge, its inverse for a pinch: both leave the rim where it is.
    const power = strength >= 0 ? strength : 1 / (1 - Math.min(0.95, -strength)) - 1
    const exponent = strength >= 0 ? power : 1 / (1 + power) - 1
    radialWarp(context, image, (dx, dy, out) => {
      const u = Math.sqrt(dx * dx + dy * dy) / radius
      const ratio = u >= 1 || u <= 0 ? 1 : u ** exponent
      out[0] = dx * ratio
      out[1] = dy * ratio
    })
  },
})
