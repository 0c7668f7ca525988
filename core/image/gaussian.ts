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
 * than their shape. Beyond the edge counts as 0, so give the matte room of 3.5 sigma.
 */
export function blurDirect(data: Float32Array, width: number, height: number, sigma: number): void {
  if (sigma < 0.05) return
  const kernel = gaussianKernel(sigma)
  const line = new Float32Array(Math.max(width, height))
  const pass = (count: number, length: number, stride: number, step: number) => {
    for (let n = 0; n < count; n++) {
      const start = n * stride
      for (let i = 0; i < length; i++) line[i] = data[start + i * step]!
      for (let i = 0; i < length; i++) {
        let sum = kernel[0]! * line[i]!
        const reach = Math.min(kernel.length - 1, Math.max(i, length - 1 - i))
        for (let k = 1; k <= reach; k++) {
          if (i >= k) sum += kernel[k]! * line[i - k]!
          if (i + k < length) sum += kernel[k]! * line[i + k]!
        }
        data[start + i * step] = sum
      }
    }
  }
  pass(height, width, width, 1)
  pass(width, height, 1, width)
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
