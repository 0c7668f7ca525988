import { rendererOf } from '../../effect.ts'
import { radialWarp } from '../../shared/radialWarp.ts'
import { radians } from '../../shared/tools.ts'
import { radialShading } from '../../shared/warpShading.ts'
import { twist } from './twist.ts'

export const renderTwist = rendererOf(twist, {
  sampleRadius: () => Infinity,
  redraws: true,
  draw(context, image) {
    const radius = context.settings.radius * context.scale
    const whole = radians(context.settings.angle)
    radialWarp(context, image, (dx, dy, out) => {
      const r = Math.sqrt(dx * dx + dy * dy)
      // Smooth to the rim: nothing tears there.
      const u = r < radius ? 1 - r / radius : 0
      const angle = -whole * u * u
      const [c, s] = [Math.cos(angle), Math.sin(angle)]
      out[0] = c * dx - s * dy
      out[1] = s * dx + c * dy
    })
  },
  shade: (context) =>
    radialShading(context, way, context.settings.radius * context.scale, radians(context.settings.angle)),
})

const way = /* wgsl */ `
fn way(d: vec2f) -> vec2f {
  let u = max(0.0, 1.0 - length(d) / numbers[3]);
  let angle = -numbers[4] * u * u;
  return vec2f(cos(angle) * d.x - sin(angle) * d.y, sin(angle) * d.x + cos(angle) * d.y);
}
`
