import type { Scratch } from '../buffers/scratch.ts'

/** Values of a normalised Gaussian of `sigma` pixels at 0..radius, where radius = ceil(3.5 sigma). */
export function gaussianKernel(sigma: number): Float32Array {
  const radius = Math.max(1, Math.ceil(3.5 * sigma))
  const kernel = new Float32Array(radius + 1)
  let sum = 0
  for (let i = 0; i <= radius; i++) {
    kernel[i] = Math.exp(-(i * i) / (2 * sigma * sigma))
    sum += (i ? 2 : 1) * kernel[i]!
  }
  return kernel.map((value) => value / sum)
}

/**
 * Blurs one channel in place with a Gaussian of `sigma` pixels by direct convolution: meant for mattes no larger
 * than their shape. Beyond the edge counts as 0, so give the matte room of 3.5 sigma. `data` comes from the scratch.
 */
export function blurDirect(data: Float32Array, width: number, height: number, sigma: number, scratch: Scratch): void {
  if (sigma < 0.05) return
  const kernel = gaussianKernel(sigma)
  const reach = kernel.length - 1
  const { kernels } = scratch
  const weights = scratch.floats('blur weights', kernel.length)
  weights.set(kernel)
  // A row with zeros on both sides, then the picture as it is after the rows, with rows of zeros above and below.
  const line = scratch.floats('blur line', width + 2 * reach, true)
  const between = scratch.floats('blur rows', width * (height + 2 * reach))
  between.fill(0, 0, reach * width)
  between.fill(0, (height + reach) * width)
  for (let y = 0; y < height; y++) {
    line.set(data.subarray(y * width, (y + 1) * width), reach)
    kernels.weighRow(line, reach, 1, weights, between, (y + reach) * width, width)
  }
  for (let y = 0; y < height; y++)
    kernels.weighRow(between, (y + reach) * width, width, weights, data, y * width, width)
}

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
