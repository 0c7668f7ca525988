import type { Plane } from '../buffers/picture.ts'
import { type Scratch, Slot } from '../buffers/scratch.ts'
import { span } from '../kernels/interface.ts'

const slots = { blurWeights: new Slot(), blurLine: new Slot(), blurRows: new Slot() }

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
 * Blurs a plane in place with a Gaussian of `sigma` pixels by direct convolution: meant for mattes no larger
 * than their shape. Beyond the edge counts as 0, so give the matte room of 3.5 sigma. Its data comes from the scratch.
 */
export function blurDirect({ data, width, height }: Plane, sigma: number, scratch: Scratch): void {
  if (sigma < 0.05) return
  const kernel = gaussianKernel(sigma)
  const reach = kernel.length - 1
  const { kernels } = scratch
  const weights = scratch.floats(slots.blurWeights, kernel.length)
  weights.set(kernel)
  // A row with zeros on both sides, then the picture as it is after the rows, with rows of zeros above and below.
  const line = scratch.floats(slots.blurLine, width + 2 * reach, true)
  const between = scratch.floats(slots.blurRows, width * (height + 2 * reach))
  between.fill(0, 0, reach * width)
  between.fill(0, (height + reach) * width)
  for (let y = 0; y < height; y++) {
    line.set(data.subarray(y * width, (y + 1) * width), reach)
    kernels.weighRow(span(line, reach), 1, weights, span(between, (y + reach) * width), width)
  }
  for (let y = 0; y < height; y++)
    kernels.weighRow(span(between, (y + reach) * width), width, weights, span(data, y * width), width)
}
