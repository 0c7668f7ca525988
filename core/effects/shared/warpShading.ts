import { type BorderMode, borderModes } from '../../pixels/buffers/border.ts'
import type { Affine } from '../../pixels/filters/warp.ts'
import type { EffectContext, Shading } from '../effect.ts'
import { centreOfEffect } from './place.ts'

const edgeOf = (edge: BorderMode): number => borderModes.indexOf(edge)

/** A picture whose pixels take their colour from where a map says, on a graphics card. */
export const affineShading = (map: Affine, edge: BorderMode): Shading => ({
  wgsl: affineWgsl,
  numbers: [edgeOf(edge), ...map],
  work: 60,
  looks: true,
})

const affineWgsl = /* wgsl */ `
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let x = numbers[1] * place.x + numbers[3] * place.y + numbers[5];
  let y = numbers[2] * place.x + numbers[4] * place.y + numbers[6];
  return seen(vec2f(x, y), u32(numbers[0]));
}
`

/**
 * A picture drawn anew about the middle of the effect, on a graphics card: `way` is WGSL of `fn way(d: vec2f) -> vec2f`, from where the
 * pixel at d from the middle takes its colour, as a way from the middle, too; it reads its numbers from 3 on.
 */
export function radialShading(
  context: EffectContext<{ edge: BorderMode }>,
  way: string,
  ...numbers: number[]
): Shading {
  const { x, y } = centreOfEffect(context)
  return { wgsl: way + radialWgsl, numbers: [edgeOf(context.settings.edge), x, y, ...numbers], work: 90, looks: true }
}

const radialWgsl = /* wgsl */ `
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let middle = vec2f(numbers[1], numbers[2]);
  return seen(middle + way(place - middle), u32(numbers[0]));
}
`
