// Numbers four at a time, for all kernels; inlined where they are called.

/** e^x for x from -20 to 0, within 2e-7: 2^n by the exponent's bits, the rest by a polynomial (Taylor, 6th order). */
// @ts-ignore: decorator
@inline
export function exp4(x: v128): v128 {
  const t = f32x4.mul(f32x4.pmax(f32x4.splat(-80), x), f32x4.splat(1.44269504))
  const whole = f32x4.floor(t)
  const y = f32x4.mul(f32x4.sub(t, whole), f32x4.splat(0.69314718))
  let p = f32x4.add(f32x4.splat(<f32>(1.0 / 120.0)), f32x4.mul(y, f32x4.splat(<f32>(1.0 / 720.0))))
  p = f32x4.add(f32x4.splat(<f32>(1.0 / 24.0)), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(<f32>(1.0 / 6.0)), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(0.5), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(1), f32x4.mul(y, p))
  p = f32x4.add(f32x4.splat(1), f32x4.mul(y, p))
  const power = i32x4.shl(i32x4.add(i32x4.trunc_sat_f32x4_s(whole), i32x4.splat(127)), 23)
  return f32x4.mul(p, power)
}

/** Share of a Gaussian below x standard deviations (Abramowitz and Stegun 7.1.26, 1.5e-7), cut to 0 and 1 beyond 4. */
// @ts-ignore: decorator
@inline
export function phi4(x: v128): v128 {
  const one = f32x4.splat(1)
  const z = f32x4.mul(f32x4.abs(x), f32x4.splat(0.70710678))
  const t = f32x4.div(one, f32x4.add(one, f32x4.mul(z, f32x4.splat(0.3275911))))
  let p = f32x4.add(f32x4.splat(-1.453152027), f32x4.mul(t, f32x4.splat(1.061405429)))
  p = f32x4.add(f32x4.splat(1.421413741), f32x4.mul(t, p))
  p = f32x4.add(f32x4.splat(-0.284496736), f32x4.mul(t, p))
  p = f32x4.add(f32x4.splat(0.254829592), f32x4.mul(t, p))
  const below = f32x4.mul(f32x4.mul(f32x4.mul(t, p), exp4(f32x4.neg(f32x4.mul(z, z)))), f32x4.splat(0.5))
  const cut = v128.and(below, f32x4.lt(f32x4.abs(x), f32x4.splat(4)))
  return v128.bitselect(cut, f32x4.sub(one, cut), f32x4.lt(x, f32x4.splat(0)))
}

/** A whole number of less than four millions as one: with 1.5 * 2^23 added the bits of a float count ones. */
// @ts-ignore: decorator
@inline
export function whole(x: f32): i32 {
  return reinterpret<i32>(x + 12582912) - 0x4b400000
}

/** The sum of four numbers. */
// @ts-ignore: decorator
@inline
export function sum4(x: v128): f32 {
  return (
    f32x4.extract_lane(x, 0) + f32x4.extract_lane(x, 1) + f32x4.extract_lane(x, 2) + f32x4.extract_lane(x, 3)
  )
}

/** One byte of four words each as numbers. */
// @ts-ignore: decorator
@inline
export function bytes4(words: v128, shift: i32): v128 {
  return f32x4.convert_i32x4_s(v128.and(i32x4.shr_u(words, shift), i32x4.splat(255)))
}

/** Four whole numbers of less than four millions each: see {@link whole}. */
// @ts-ignore: decorator
@inline
export function wholes4(x: v128): v128 {
  return i32x4.sub(f32x4.add(x, f32x4.splat(12582912)), i32x4.splat(0x4b400000))
}
