/**
 * WGSL that every {@link Shading} may call: the share of a Gaussian below x standard deviations (Abramowitz and Stegun 7.1.26), BT.709
 * luminance, and the sRGB transfer of IEC 61966-2-1 either way.
 */
export const shadingPrelude = /* wgsl */ `
fn phi(x: f32) -> f32 {
  if (x <= -4.0) { return 0.0; }
  if (x >= 4.0) { return 1.0; }
  let z = abs(x) * 0.70710678;
  let t = 1.0 / (1.0 + 0.3275911 * z);
  let sum = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  return 0.5 * (1.0 + sign(x) * (1.0 - sum * exp(-z * z)));
}
fn luminance(c: vec3f) -> f32 { return dot(c, vec3f(0.2126, 0.7152, 0.0722)); }
fn encoded(v: f32) -> f32 {
  return select(1.055 * pow(max(v, 0.0031308), 1.0 / 2.4) - 0.055, v * 12.92, v <= 0.0031308);
}
fn linear(v: f32) -> f32 {
  return select(pow((max(v, 0.04045) + 0.055) / 1.055, 2.4), v / 12.92, v <= 0.04045);
}
`
