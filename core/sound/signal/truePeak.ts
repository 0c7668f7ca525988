/** Samples that are looked at around a place between two of them, and places between: as ITU-R BS.1770-4, annex 2, but longer. */
const taps = 24
const between = 4

/** Weights of every place between, a sinc in a raised cosine. */
const kernel = Array.from({ length: between }, (_, phase) => {
  const weights = Float64Array.from({ length: taps }, (_, k) => {
    const x = k - (taps / 2 - 1) - phase / between
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * x) / (Math.PI * x)
    return sinc * (0.5 + 0.5 * Math.cos((Math.PI * x) / (taps / 2 + 0.5)))
  })
  // A level that stands still stays as it is.
  const sum = weights.reduce((a, b) => a + b)
  return weights.map((w) => w / sum)
})

/** No place between samples is higher than the highest of them times this. */
const overshoot = Math.max(...kernel.map((weights) => weights.reduce((sum, w) => sum + Math.abs(w), 0)))

/** Samples by which {@link TruePeak.step} comes late. */
export const peakDelay = taps / 2

/** The highest that one channel rises between its samples, too (ITU-R BS.1770-4, annex 2: four times as many places). */
export class TruePeak {
  private readonly ring = new Float64Array(2 * taps)
  private at = 0
  /** The largest so far, as a factor of full scale. */
  most = 0
  /** Samples until all that could reach beyond what is asked for are gone. */
  private near = 0

  /**
   * Takes a sample; gives the peak between the samples `peakDelay` and `peakDelay` - 1 before it. What can not be above `floor`
   * is not looked for: then it gives 0.
   */
  step(x: number, floor = 0): number {
    const { ring } = this
    // Written twice, so that the last samples always lie in one piece.
    ring[this.at] = ring[this.at + taps] = x
    this.at = (this.at + 1) % taps
    if (Math.abs(x) * overshoot > floor) this.near = taps
    if (this.near === 0) return 0
    this.near--
    let most = 0
    for (let phase = 0; phase < between; phase++) {
      const weights = kernel[phase]!
      let sum = 0
      for (let k = 0; k < taps; k++) sum += ring[this.at + k]! * weights[k]!
      const size = Math.abs(sum)
      if (size > most) most = size
    }
    if (most > this.most) this.most = most
    return most
  }
}
