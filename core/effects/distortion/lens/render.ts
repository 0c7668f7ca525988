import { type ContextOf, rendererOf } from '../../effect.ts'
import { radialWarp } from '../../shared/radialWarp.ts'
import { radialShading } from '../../shared/warpShading.ts'
import { lens } from './lens.ts'

export const renderLens = rendererOf(lens, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw(context, image) {
    const { radius, exponent } = curveOf(context)
    radialWarp(context, image, (dx, dy, out) => {
      const u = Math.sqrt(dx * dx + dy * dy) / radius
      const ratio = u >= 1 || u <= 0 ? 1 : u ** exponent
      out[0] = dx * ratio
      out[1] = dy * ratio
    })
  },
  shade(context) {
    const { radius, exponent } = curveOf(context)
    return radialShading(context, way, radius, exponent)
  },
})

const way = /* wgsl */ `
fn way(d: vec2f) -> vec2f {
  let u = length(d) / numbers[3];
  if (u >= 1.0 || u <= 0.0) { return d; }
  return d * pow(u, numbers[4]);
}
`

/** r^(1 + s) for a bulge, its inverse for a pinch: both leave the rim where it is. */
function curveOf({ settings: { strength, radius }, scale }: ContextOf<typeof lens>) {
  const power = strength >= 0 ? strength : 1 / (1 - Math.min(0.95, -strength)) - 1
  return { radius: radius * scale, exponent: strength >= 0 ? power : 1 / (1 + power) - 1 }
}
