import { blockSize } from './stereo.ts'

/** Samples that are looked at around a place between two of them, and places between: as ITU-R BS.1770-4, annex 2, but longer. */
const taps = 24

/** Weights of the samples around a place a `share` of the way between the two in the middle, a sinc in a raised cosine. */
function weightsAt(share: number): Float64Array {
  const weights = Float64Array.from({ length: taps }, (_, k) => {
    const x = k - (taps / 2 - 1) - share
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)
    return sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / (taps / 2 + 0.5)))
  })
  // A level that stands still stays as it is.
  const sum = weights.reduce((a, b) => a + b)
  return weights.map((w) => w / sum)
}
const [quarter, middle] = [weightsAt(1 / 4), weightsAt(1 / 2)]
/*
 * The weights of three quarters are those of one quarter from the other end, and those of the middle are their own mirror: with
 * the sums and the differences of two samples that lie opposite, three places cost 36 products, not 72.
 */
const half = taps / 2
const ofSums = Float64Array.from({ length: half }, (_, k) => (quarter[k]! + quarter[taps - 1 - k]!) / 2)
const ofDifferences = Float64Array.from({ length: half }, (_, k) => (quarter[k]! - quarter[taps - 1 - k]!) / 2)

/** No place between samples is higher than the highest of them times this. */
const overshoot = Math.max(...[quarter, middle].map((weights) => weights.reduce((sum, w) => sum + Math.abs(w), 0)))

/** Samples by which {@link TruePeak.takeBlock} comes late. */
export const peakDelay = half

/** The highest that one channel rises between its samples, too (ITU-R BS.1770-4, annex 2: four times as many places). */
export class TruePeak {
  /** The samples before a block, and the block. */
  private readonly line = new Float64Array(taps - 1 + blockSize)
  private readonly sums = new Float64Array(blockSize)
  private readonly differences = new Float64Array(blockSize)
  private readonly between = new Float64Array(blockSize)
  /** The largest so far, as a factor of full scale. */
  most = 0

  /** Takes samples `from` up to `to` for {@link TruePeak.most}. */
  take(samples: Float32Array, from = 0, to = samples.length): void {
    for (let at = from; at < to; at += blockSize) this.takeBlock(samples, at, Math.min(to, at + blockSize), 0)
  }

  /**
   * Takes samples `from` up to `to`, at most a block. Writes to `peaks`, if given, from 0 on, the peak between the samples
   * `peakDelay` and `peakDelay` - 1 before each. Where nothing can be above `floor` it is not looked for: there it is 0.
   */
  takeBlock(samples: Float32Array, from: number, to: number, floor: number, peaks?: Float64Array): void {
    const { line } = this
    const count = to - from
    for (let i = 0; i < count; i++) line[taps - 1 + i] = samples[from + i]!
    let highest = 0
    for (let i = 0; i < taps - 1 + count; i++) {
      const size = Math.abs(line[i]!)
      if (size > highest) highest = size
    }
    if (highest * overshoot > floor) this.look(count, peaks)
    else peaks?.fill(0, 0, count)
    line.copyWithin(0, count, count + taps - 1)
  }

  /** Peaks of `count` samples. Three pairs of samples at once, over the whole block, is the quickest of what was tried. */
  private look(count: number, peaks?: Float64Array): void {
    const { line, sums, differences, between } = this
    sums.fill(0)
    differences.fill(0)
    between.fill(0)
    for (let k = 0; k < half; k += 3) {
      const e = taps - 1 - k
      const s0 = ofSums[k]!
      const s1 = ofSums[k + 1]!
      const s2 = ofSums[k + 2]!
      const d0 = ofDifferences[k]!
      const d1 = ofDifferences[k + 1]!
      const d2 = ofDifferences[k + 2]!
      const m0 = middle[k]!
      const m1 = middle[k + 1]!
      const m2 = middle[k + 2]!
      for (let i = 0; i < count; i++) {
        const a0 = line[i + k]!
        const a1 = line[i + k + 1]!
        const a2 = line[i + k + 2]!
        const b0 = line[i + e]!
        const b1 = line[i + e - 1]!
        const b2 = line[i + e - 2]!
        sums[i]! += (a0 + b0) * s0 + (a1 + b1) * s1 + (a2 + b2) * s2
        differences[i]! += (a0 - b0) * d0 + (a1 - b1) * d1 + (a2 - b2) * d2
        between[i]! += (a0 + b0) * m0 + (a1 + b1) * m1 + (a2 + b2) * m2
      }
    }
    for (let i = 0; i < count; i++) {
      const peak = Math.max(
        Math.abs(line[i + half - 1]!),
        Math.abs(sums[i]! + differences[i]!),
        Math.abs(between[i]!),
        Math.abs(sums[i]! - differences[i]!),
      )
      if (peak > this.most) this.most = peak
      if (peaks) peaks[i] = peak
    }
  }
}
