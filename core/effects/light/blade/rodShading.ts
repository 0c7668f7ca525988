import { phi } from '../../../pixels/kernels/phi.ts'
import type { Shading } from '../../effect.ts'
import { type FarStroke, type NearStroke, type RodStyle, tail } from './rodLight.ts'

/** Numbers of a stroke, of a narrow halo, which all follow the strokes, and of a wide one. */
const [nearSize, haloSize, farSize] = [15, 4, 10]
/** Side of a cell in which halos from this sigma on are computed, in pixels at the scale: 2.4 cells are smooth. */
const cell = 4
const coarseSigma = 2.4 * cell

/** The light of rods on a graphics card: the closed forms of {@link RodLight} at every pixel, of the widest halos in every cell. */
export function rodShading(
  { spill }: Pick<RodStyle, 'spill'>,
  rods: { near: NearStroke[]; far: FarStroke[] }[],
): Shading {
  const near = rods.flatMap((rod) => rod.near)
  const all = rods.flatMap((rod) => rod.far)
  const [far, coarse] = [false, true].map((is) => all.filter(({ halo }) => halo.sigma >= coarseSigma === is))
  const wide = [...far!, ...coarse!]
  let halo = 4 + farSize * wide.length + nearSize * near.length
  const numbers = [far!.length, coarse!.length, near.length, spill]
  for (const { pose, halo, share, half } of wide) {
    const { x, y, ux, uy, length } = pose
    const { sigma, light } = halo
    // What lies straight between cells is softened by that: a sixth of the square of their side (variance of a triangle).
    const softened = sigma >= coarseSigma ? Math.sqrt(sigma ** 2 - cell ** 2 / 6) : sigma
    numbers.push(x, y, ux, uy, length, half, softened, ...lightOf(light, sigma, half, share))
  }
  for (const { pose, share, half, taper, round, edge, core, halos } of near) {
    const { x, y, ux, uy, length } = pose
    const softest = halos.reduce((most, { sigma }) => Math.max(most, sigma), edge)
    numbers.push(x, y, ux, uy, length, half, taper, round, edge, ...core.map((c) => c * share))
    numbers.push(halo, halos.length, half + tail * softest)
    halo += haloSize * halos.length
  }
  for (const { share, half, halos } of near)
    for (const { sigma, light } of halos) numbers.push(sigma, ...lightOf(light, sigma, half, share))
  // A wide halo takes four distribution functions; of a narrow stroke most pixels only learn that it is far away.
  const work = 80 * (far!.length + coarse!.length / cell ** 2) + 20 * near.length
  return { wgsl, numbers, work, ...(coarse!.length ? { cell } : {}) }
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
fn wide_halos(place: vec2f, first: u32, count: u32) -> vec3f {
  var light = vec3f(0.0);
  for (var i = first; i < first + count; i++) {
    let at = 4u + ${farSize}u * i;
    let p = place - vec2f(numbers[at], numbers[at + 1u]);
    let along = vec2f(numbers[at + 2u], numbers[at + 3u]);
    let v = abs(p.y * along.x - p.x * along.y);
    light += blurred(dot(p, along), v, numbers[at + 5u], numbers[at + 6u], numbers[at + 4u]) *
      vec3f(numbers[at + 7u], numbers[at + 8u], numbers[at + 9u]);
  }
  return light;
}
fn coarse(place: vec2f) -> vec4f { return vec4f(wide_halos(place, u32(numbers[0]), u32(numbers[1])), 0.0); }

fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let far_count = u32(numbers[0]);
  let coarse_count = u32(numbers[1]);
  var far = wide_halos(place, 0u, far_count);
  if (coarse_count > 0u) { far += coarse_at(place).rgb; }
  var near = vec3f(0.0);
  for (var i = 0u; i < u32(numbers[2]); i++) {
    let at = 4u + ${farSize}u * (far_count + coarse_count) + ${nearSize}u * i;
    let p = place - vec2f(numbers[at], numbers[at + 1u]);
    let along = vec2f(numbers[at + 2u], numbers[at + 3u]);
    let length = numbers[at + 4u];
    let u = dot(p, along);
    let v = abs(p.y * along.x - p.x * along.y);
    // Most strokes are far from most pixels.
    let reach = numbers[at + 14u];
    if (v > reach || u < -reach || u > length + reach) { continue; }
    let on = clamp(u, 0.0, length);
    let h = numbers[at + 5u] * (1.0 - numbers[at + 6u] * on / length);
    let beyond = u - on;
    let rounded = sqrt(beyond * beyond + v * v) - h;
    let cut = numbers[at + 7u] * rounded + (1.0 - numbers[at + 7u]) * max(v - h, beyond);
    let distance = select(rounded, cut, beyond > 0.0);
    near += phi(-distance / numbers[at + 8u]) * vec3f(numbers[at + 9u], numbers[at + 10u], numbers[at + 11u]);
    var halo = u32(numbers[at + 12u]);
    let last = halo + ${haloSize}u * u32(numbers[at + 13u]);
    for (; halo < last; halo += ${haloSize}u) {
      near += blurred(u, v, h, numbers[halo], length) *
        vec3f(numbers[halo + 1u], numbers[halo + 2u], numbers[halo + 3u]);
    }
  }
  return vec4f(near * (1.0 - hidden) + far * (1.0 - hidden * (1.0 - numbers[3])), 0.0);
}
`
