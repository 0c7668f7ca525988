/** The quietest that is told apart, in decibels of full scale. */
export const silence = -90

/**
 * The level of a sound on every frame of a clip, gathered piece by piece: root mean square over the frame's time and all
 * channels in decibels of full scale (a sine from end to end of the scale is at -3.01).
 */
export class FrameLevels {
  private readonly sums: Float64Array
  private readonly counts: Float64Array
  private readonly times: readonly number[]
  private readonly end: number

  /** `times`: seconds at which the frames begin, rising. The last one is as long as the one before. */
  constructor(times: readonly number[]) {
    this.times = times
    this.sums = new Float64Array(times.length)
    this.counts = new Float64Array(times.length)
    const last = times.at(-1) ?? 0
    this.end = last + (times.length > 1 ? last - times.at(-2)! : 1 / 24)
  }

  /** Samples of one channel, -1 to 1, from second `from` on, `rate` a second. */
  add(samples: Float32Array, from: number, rate: number): void {
    let frame = 0
    for (let i = 0; i < samples.length; i++) {
      const time = from + i / rate
      if (time < this.times[0]! || time >= this.end) continue
      while (frame + 1 < this.times.length && this.times[frame + 1]! <= time) frame++
      this.sums[frame]! += samples[i]! * samples[i]!
      this.counts[frame]!++
    }
  }

  levels(): Float32Array {
    return Float32Array.from(this.sums, (sum, i) =>
      Math.max(silence, this.counts[i] && sum ? 10 * Math.log10(sum / this.counts[i]!) : silence),
    )
  }
}
