import { phi } from '../../../pixels/kernels/phi.ts'
import type { Shading } from '../../effect.ts'
import { type FarStroke, type NearStroke, type RodStyle, tail } from './rodLight.ts'

/** Numbers of a stroke; those of a narrow halo follow all strokes. */
const [nearSize, haloSize, farSize] = [15, 4, 10]

/** The light of rods on a graphics card: the closed forms of {@link RodLight} at every pixel, wide halos at full size, too. */
export function rodShading(
  { spill }: Pick<RodStyle, 'spill'>,
  rods: { near: NearStroke[]; far: FarStroke[] }[],
): Shading {
  const near = rods.flatMap((rod) => rod.near)
  const far = rods.flatMap((rod) => rod.far)
  let halo = 3 + nearSize * near.length + farSize * far.length
  const numbers = [near.length, far.length, spill]
  for (const { pose, share, half, taper, round, edge, core, halos } of near) {
    const { x, y, ux, uy, length } = pose
    const softest = halos.reduce((most, { sigma }) => Math.max(most, sigma), edge)
    numbers.push(x, y, ux, uy, length, half, taper, round, edge, ...core.map((c) => c * share), halo, halos.length)
    numbers.push(half + tail * softest)
    halo += haloSize * halos.length
  }
  for (const { pose, halo, share, half } of far) {
    const { x, y, ux, uy, length } = pose
    numbers.push(x, y, ux, uy, length, half, halo.sigma, ...lightOf(halo.light, halo.sigma, half, share))
  }
  for (const { share, half, halos } of near)
    for (const { sigma, light } of halos) numbers.push(sigma, ...lightOf(light, sigma, half, share))
  return { wgsl, numbers }
}

/** Normalised so that the strength is the light in the middle of a long rod, whatever the feather. */
const lightOf = (light: readonly number[], sigma: number, half: number, share: number): number[] =>
  light.map((c) => (c * share) / (2 * phi(half / sigma) - 1))

const wgsl = /* wgsl */ `
// Share of a rod's light after a blur by sigma: along it, and across at v from a rod of half the width h.
fn blurred(u: f32, v: f32, h: f32, sigma: f32, length: f32) -> f32 {
  if (v > h + 4.0 * sigma || u < -4.0 * sigma || u > length + 4.0 * sigma) { return 0.0; }
  return (phi((v + h) / sigma) - phi((v - h) / sigma)) * (phi(u / sigma) - phi((u - length) / sigma));
}

fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let near_count = u32(numbers[0]);
  let far_count = u32(numbers[1]);
  var near = vec3f(0.0);
  var far = vec3f(0.0);
  var at = 3u;
  for (var i = 0u; i < near_count; i++) {
    let p = place - vec2f(numbers[at], numbers[at + 1u]);
    let along = vec2f(numbers[at + 2u], numbers[at + 3u]);
    let length = numbers[at + 4u];
    let u = dot(p, along);
    let v = abs(p.y * along.x - p.x * along.y);
    // Most strokes are far from most pixels.
    let reach = numbers[at + 14u];
    at += ${nearSize}u;
    if (v > reach || u < -reach || u > length + reach) { continue; }
    let stroke = at - ${nearSize}u;
    let on = clamp(u, 0.0, length);
    let h = numbers[stroke + 5u] * (1.0 - numbers[stroke + 6u] * on / length);
    let beyond = u - on;
    let rounded = sqrt(beyond * beyond + v * v) - h;
    let cut = numbers[stroke + 7u] * rounded + (1.0 - numbers[stroke + 7u]) * max(v - h, beyond);
    let distance = select(rounded, cut, beyond > 0.0);
    near += phi(-distance / numbers[stroke + 8u]) * vec3f(numbers[stroke + 9u], numbers[stroke + 10u], numbers[stroke + 11u]);
    var halo = u32(numbers[stroke + 12u]);
    let last = halo + ${haloSize}u * u32(numbers[stroke + 13u]);
    for (; halo < last; halo += ${haloSize}u) {
      near += blurred(u, v, h, numbers[halo], length) *
        vec3f(numbers[halo + 1u], numbers[halo + 2u], numbers[halo + 3u]);
    }
  }
  for (var i = 0u; i < far_count; i++) {
    let p = place - vec2f(numbers[at], numbers[at + 1u]);
    let along = vec2f(numbers[at + 2u], numbers[at + 3u]);
    let v = abs(p.y * along.x - p.x * along.y);
    far += blurred(dot(p, along), v, numbers[at + 5u], numbers[at + 6u], numbers[at + 4u]) *
      vec3f(numbers[at + 7u], numbers[at + 8u], numbers[at + 9u]);
    at += ${farSize}u;
  }
  return vec4f(near * (1.0 - hidden) + far * (1.0 - hidden * (1.0 - numbers[2])), 0.0);
}
`
