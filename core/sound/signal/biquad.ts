import { soundRate, type Stereo } from './stereo.ts'

export type FilterKind = 'lowpass' | 'highpass' | 'bandpass' | 'peaking' | 'lowshelf' | 'highshelf'

/**
 * A filter of second order (transposed direct form II, double precision). Coefficients by R. Bristow-Johnson, Cookbook
 * formulae for audio equalizer biquad filter coefficients (W3C Note, 2021); as everywhere in it, bandpass has 0 dB at its
 * middle.
 */
export class Biquad {
  protected b0 = 1
  protected b1 = 0
  protected b2 = 0
  protected a1 = 0
  protected a2 = 0
  protected z1 = 0
  protected z2 = 0

  /**
   * `frequency` in hertz, held below half the rate; `q`: quality, above 0; for shelves 1 / sqrt 2 is a slope of 1. `gain` in
   * decibels, of peaking and shelves only. The memory of the filter stays, so that it can be moved while it runs.
   */
  set(kind: FilterKind, frequency: number, q = Math.SQRT1_2, gain = 0, rate = soundRate): this {
    const w = (2 * Math.PI * Math.min(Math.max(frequency, 1), 0.49 * rate)) / rate
    const [cos, sin] = [Math.cos(w), Math.sin(w)]
    const alpha = sin / (2 * q)
    const A = 10 ** (gain / 40)
    const root = 2 * Math.sqrt(A) * alpha
    switch (kind) {
      case 'lowpass':
        return this.take((1 - cos) / 2, 1 - cos, (1 - cos) / 2, 1 + alpha, -2 * cos, 1 - alpha)
      case 'highpass':
        return this.take((1 + cos) / 2, -1 - cos, (1 + cos) / 2, 1 + alpha, -2 * cos, 1 - alpha)
      case 'bandpass':
        return this.take(alpha, 0, -alpha, 1 + alpha, -2 * cos, 1 - alpha)
      case 'peaking':
        return this.take(1 + alpha * A, -2 * cos, 1 - alpha * A, 1 + alpha / A, -2 * cos, 1 - alpha / A)
      case 'lowshelf':
        return this.take(
          A * (A + 1 - (A - 1) * cos + root),
          2 * A * (A - 1 - (A + 1) * cos),
          A * (A + 1 - (A - 1) * cos - root),
          A + 1 + (A - 1) * cos + root,
          -2 * (A - 1 + (A + 1) * cos),
          A + 1 + (A - 1) * cos - root,
        )
      case 'highshelf':
        return this.take(
          A * (A + 1 + (A - 1) * cos + root),
          -2 * A * (A - 1 + (A + 1) * cos),
          A * (A + 1 + (A - 1) * cos - root),
          A + 1 - (A - 1) * cos + root,
          2 * (A - 1 - (A + 1) * cos),
          A + 1 - (A - 1) * cos - root,
        )
    }
  }

  /** Coefficients as they are: of the numerator, then of the denominator. */
  take(b0: number, b1: number, b2: number, a0: number, a1: number, a2: number): this {
    this.b0 = b0 / a0
    this.b1 = b1 / a0
    this.b2 = b2 / a0
    this.a1 = a1 / a0
    this.a2 = a2 / a0
    return this
  }

  /** One sample through the filter. */
  step(x: number): number {
    const y = this.b0 * x + this.z1
    this.z1 = this.b1 * x - this.a1 * y + this.z2
    this.z2 = this.b2 * x - this.a2 * y
    return y
  }

  /** Samples `from` up to `to` in place. */
  run(samples: Float32Array, from = 0, to = samples.length): void {
    const { b0, b1, b2, a1, a2 } = this
    let { z1, z2 } = this
    for (let i = from; i < to; i++) {
      const x = samples[i]!
      const y = b0 * x + z1
      z1 = b1 * x - a1 * y + z2
      z2 = b2 * x - a2 * y
      samples[i] = y
    }
    this.z1 = audible(z1)
    this.z2 = audible(z2)
  }

  /** Forgets what it has heard. */
  reset(): void {
    this.z1 = this.z2 = 0
  }

  /** How much the filter lets through at a frequency, as a factor. */
  response(frequency: number, rate = soundRate): number {
    const w = (2 * Math.PI * frequency) / rate
    const size = (c0: number, c1: number, c2: number) =>
      Math.hypot(c0 + c1 * Math.cos(w) + c2 * Math.cos(2 * w), c1 * Math.sin(w) + c2 * Math.sin(2 * w))
    return size(this.b0, this.b1, this.b2) / size(1, this.a1, this.a2)
  }
}

/** The same filter on both sides of a sound: side by side they take little longer than one. */
export class StereoBiquad extends Biquad {
  private right1 = 0
  private right2 = 0

  /** Samples `from` up to `to` of both sides in place. */
  runBoth({ left, right }: Stereo, from = 0, to = left.length): void {
    const { b0, b1, b2, a1, a2 } = this
    let { z1, z2, right1, right2 } = this
    for (let i = from; i < to; i++) {
      const x = left[i]!
      const v = right[i]!
      const y = b0 * x + z1
      const w = b0 * v + right1
      z1 = b1 * x - a1 * y + z2
      right1 = b1 * v - a1 * w + right2
      z2 = b2 * x - a2 * y
      right2 = b2 * v - a2 * w
      left[i] = y
      right[i] = w
    }
    this.z1 = audible(z1)
    this.z2 = audible(z2)
    this.right1 = audible(right1)
    this.right2 = audible(right2)
  }

  override reset(): void {
    super.reset()
    this.right1 = this.right2 = 0
  }
}

/** What is left of a sound that ended long ago becomes too small to be computed quickly. */
const audible = (memory: number): number => (Math.abs(memory) < 1e-20 ? 0 : memory)
