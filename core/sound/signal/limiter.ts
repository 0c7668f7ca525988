import { gainOf, soundRate, type Stereo } from './stereo.ts'
import { peakDelay, TruePeak } from './truePeak.ts'

/** Samples that a peak is seen coming: 4 ms, in which the level goes down smoothly. */
const ahead = 192
/** Within so many seconds the level is back by 60 dB of the way. */
const release = 0.35

/**
 * Lets no true peak over its ceiling: sees peaks coming, goes down before them without a step, and comes back slowly. What is
 * quieter passes as it is, {@link Limiter.delay} samples late.
 */
export class Limiter {
  /** Samples by which the sound comes out late. */
  static readonly delay = ahead + peakDelay - 1
  /** The least factor since it was last asked for. */
  private least = 1
  private readonly ceiling: number
  private readonly peaks = [new TruePeak(), new TruePeak()] as const
  private readonly waiting = { left: new Float32Array(Limiter.delay), right: new Float32Array(Limiter.delay) }
  private at = 0
  /** Places and factors of a falling queue whose head is the least of the last `ahead` samples. */
  private readonly queueAt = new Float64Array(ahead + 1)
  private readonly queueGain = new Float64Array(ahead + 1)
  private head = 0
  private length = 0
  private now = 0
  private held = 1
  /** The last factors, for their mean. */
  private readonly factors = new Float64Array(ahead).fill(1)
  private sum = ahead
  private factorAt = 0
  private readonly back = 1 - Math.exp(-6.9 / (release * soundRate))

  /** `ceiling`: decibels of full scale that no true peak passes. A hair below is aimed at: a level that moves lifts peaks. */
  constructor(ceiling = -1) {
    this.ceiling = gainOf(ceiling - 0.05)
  }

  /** Samples `from` up to `to` in place. */
  run({ left, right }: Stereo, from = 0, to = left.length): void {
    const size = ahead + 1
    for (let i = from; i < to; i++) {
      const [l, r] = [left[i]!, right[i]!]
      const peak = Math.max(this.peaks[0].step(l, this.ceiling), this.peaks[1].step(r, this.ceiling))
      const wanted = peak > this.ceiling ? this.ceiling / peak : 1
      // The least of what is wanted within the next samples, by a queue that only holds what can still become the least.
      while (this.length && this.queueGain[(this.head + this.length - 1) % size]! >= wanted) this.length--
      const end = (this.head + this.length) % size
      this.queueAt[end] = this.now
      this.queueGain[end] = wanted
      this.length++
      if (this.queueAt[this.head]! <= this.now - ahead) {
        this.head = (this.head + 1) % size
        this.length--
      }
      this.now++
      const least = this.queueGain[this.head]!
      this.held = least < this.held ? least : this.held + (least - this.held) * this.back
      // Its mean over the way ahead arrives at the least just when the peak does.
      this.sum += this.held - this.factors[this.factorAt]!
      this.factors[this.factorAt] = this.held
      this.factorAt = (this.factorAt + 1) % ahead
      const factor = Math.min(1, this.sum / ahead)
      if (factor < this.least) this.least = factor
      left[i] = this.waiting.left[this.at]! * factor
      right[i] = this.waiting.right[this.at]! * factor
      this.waiting.left[this.at] = l
      this.waiting.right[this.at] = r
      this.at = (this.at + 1) % Limiter.delay
    }
  }

  /** The least factor since this was last asked for: how much is taken away. */
  reduction(): number {
    const least = this.least
    this.least = 1
    return least
  }
}
