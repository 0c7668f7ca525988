import { rendererOf } from '../../effect.ts'
import { wholePicture } from '../../shared/place.ts'
import { radialWarp } from '../../shared/radialWarp.ts'
import { radialShading } from '../../shared/warpShading.ts'
import { barrel } from './barrel.ts'

/** A bend is straight over eight pixels. */
const step = 8

export const renderBarrel = rendererOf(barrel, {
  bounds: wholePicture,
  sampleRadius: () => Infinity,
  redraws: true,
  draw(context, image) {
    const { settings, size } = context
    // Radial distortion r' = r (1 + k r^2), r in half diagonals (Brown 1966, first term).
    const unit = 4 / (size.width ** 2 + size.height ** 2)
    const zoom = 1 / settings.zoom
    radialWarp(
      context,
      image,
      (x, y, out) => {
        const [dx, dy] = [x * zoom, y * zoom]
        const ratio = 1 + settings.bend * (dx * dx + dy * dy) * unit
        out[0] = dx * ratio
        out[1] = dy * ratio
      },
      step,
    )
  },
  shade(context) {
    const { settings, size } = context
    return radialShading(context, way, 1 / settings.zoom, (4 * settings.bend) / (size.width ** 2 + size.height ** 2))
  },
})

const way = /* wgsl */ `
fn way(d: vec2f) -> vec2f {
  let p = d * numbers[3];
  return p * (1.0 + numbers[4] * dot(p, p));
}
`
