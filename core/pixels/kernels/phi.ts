
const phiSteps = 1024
const phiReach = 4
/** Share of a Gaussian below x standard deviations, as a table over -4..4 (Abramowitz and Stegun 7.1.26, 1.5e-7). */
const phiTable = Float32Array.from({ length: phiSteps + 2 }, (_, i) => {
  const x = ((i / phiSteps) * 2 - 1) * phiReach
  const z = Math.abs(x) / Math.SQRT2
  const t = 1 / (1 + 0.3275911 * z)
  const poly = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))))
  const erf = 1 - poly * Math.exp(-z * z)
  return 0.5 * (1 + Math.sign(x) * erf)
})

/** Gaussian distribution function at x standard deviations, within 5e-5. */
export function phi(x: number): number {
  if (x <= -phiReach) return 0
  if (x >= phiReach) return 1
  const at = (x + phiReach) * (phiSteps / (2 * phiReach))
  const i = at | 0
  return phiTable[i]! + (phiTable[i + 1]! - phiTable[i]!) * (at - i)
}
