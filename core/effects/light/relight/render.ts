import { inflate, type Rect } from '../../../geometry/rect.ts'
import { Slot } from '../../../pixels/buffers/scratch.ts'
import { quickEncoded, quickLinear } from '../../../pixels/colour/transfer.ts'
import { type ContextOf, rendererOf } from '../../effect.ts'
import { centreOfEffect } from '../../shared/place.ts'
import { blurCover } from '../../shared/tools.ts'
import { relight } from './relight.ts'

const slots = { cover: new Slot(), gains: new Slot() }

/** Slope at the edge of a body that is as round as usual: it is tilted by 58 degrees there. */
const steepest = 4

/**
 * Lambert's law on a relief that is made up from the matte alone: it rises from the edge inwards as far as its roundness
 * goes. Light falls off with the square of the distance, half of it left at the lamp's reach.
 */
export const renderRelight = rendererOf(relight, {
  sampleRadius: () => 0,
  draw(context, { data, region }) {
    const gains = gainsOf(context, region)
    const linear = context.light === 'linear'
    for (let i = 0; i < data.length; i += 4)
      for (let c = i; c < i + 3; c++) {
        const v = data[c]!
        data[c] = linear ? v * gains[c]! : quickEncoded(quickLinear(v) * gains[c]!)
      }
  },
  shade: (context, bounds) => ({
    wgsl,
    numbers: [context.light === 'linear' ? 1 : 0],
    work: 10,
    field: () => gainsOf(context, bounds),
  }),
})

const wgsl = /* wgsl */ `
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let gain = field(place).rgb;
  if (numbers[0] > 0.5) { return vec4f(under.rgb * gain, under.a); }
  let c = under.rgb;
  let lit = vec3f(linear(c.r), linear(c.g), linear(c.b)) * gain;
  return vec4f(encoded(lit.r), encoded(lit.g), encoded(lit.b), under.a);
}
`

/** By how much the light of each pixel of a region is multiplied: RGBA, its alpha left as it was. */
function gainsOf(context: ContextOf<typeof relight>, region: Rect): Float32Array {
  const { settings, scale, scratch } = context
  const sigma = (settings.round / 2) * scale
  // What is cut off by the picture's own edge goes on there: its relief must not end with it.
  const rect = inflate(region, Math.ceil(3 * sigma) + 2)
  const height = context.region(rect, slots.cover)
  blurCover(height, rect.width, rect.height, sigma, scratch)
  const rise = settings.relief * steepest * sigma
  const middle = centreOfEffect(context)
  const lamp = { x: middle.x + settings.x * scale, y: middle.y + settings.y * scale, z: settings.before * scale }
  const reach = (settings.reach * scale) ** 2
  const tint = context.colour(settings.tint)
  const brighter = 2 ** settings.strength - 1
  const gains = scratch.floats(slots.gains, 4 * region.width * region.height)
  for (let y = 0; y < region.height; y++) {
    let at = (region.y + y - rect.y) * rect.width + region.x - rect.x
    let to = 4 * y * region.width
    for (let x = 0; x < region.width; x++, at++, to += 4) {
      const across = (-rise * (height[at + 1]! - height[at - 1]!)) / 2
      const down = (-rise * (height[at + rect.width]! - height[at - rect.width]!)) / 2
      const [dx, dy] = [lamp.x - (region.x + x + 0.5), lamp.y - (region.y + y + 0.5)]
      const far = dx * dx + dy * dy + lamp.z * lamp.z
      const facing = (across * dx + down * dy + lamp.z) / Math.sqrt((across * across + down * down + 1) * far + 1e-9)
      const lit = facing > 0 ? (facing * brighter * reach) / (reach + far) : 0
      const kept = 1 - settings.shade * (1 - Math.max(0, facing))
      for (let c = 0; c < 3; c++) gains[to + c] = kept + lit * tint[c]!
    }
  }
  return gains
}
