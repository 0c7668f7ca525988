/**
 * Progress of a CSS cubic-bezier timing function (CSS Easing Level 1): control points (x1, y1), (x2, y2) with
 * x1 and x2 in 0..1; y may overshoot. `x` in 0..1; the result is exact to 1e-7.
 */
export function cubicBezierEasing(x1: number, y1: number, x2: number, y2: number, x: number): number {
  if (x <= 0) return 0
  if (x >= 1) return 1
  const along = (a: number, b: number, t: number) => ((1 + 3 * a - 3 * b) * t + 3 * b - 6 * a) * t * t + 3 * a * t
  // x(t) never falls, so bisection always works; Newton would fail where its slope is zero.
  let low = 0
  let high = 1
  for (let i = 0; i < 40; i++) {
    const mid = (low + high) / 2
    if (along(x1, x2, mid) < x) low = mid
    else high = mid
  }
  return along(y1, y2, (low + high) / 2)
}
