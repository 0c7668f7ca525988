import { blockSize, gainOf, soundRate, type Stereo } from './stereo.ts'
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
  private readonly found = [new Float64Array(blockSize), new Float64Array(blockSize)] as const
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
  run(sound: Stereo, from = 0, to = sound.left.length): void {
    for (let at = from; at < to; at += blockSize) this.runBlock(sound, at, Math.min(to, at + blockSize))
  }

  private runBlock({ left, right }: Stereo, from: number, to: number): void {
    const { ceiling, queueAt, queueGain, factors, waiting, back } = this
    const [leftPeaks, rightPeaks] = this.found
    this.peaks[0].takeBlock(left, from, to, ceiling, leftPeaks)
    this.peaks[1].takeBlock(right, from, to, ceiling, rightPeaks)
    const size = queueGain.length
    const share = 1 / ahead
    // Plain variables while it runs.
    let { head, length, now, held, sum, factorAt, at, least } = this
    for (let i = from; i < to; i++) {
      const onLeft = leftPeaks[i - from]!
      const onRight = rightPeaks[i - from]!
      const peak = onLeft > onRight ? onLeft : onRight
      const wanted = peak > ceiling ? ceiling / peak : 1
      // The least of what is wanted within the next samples, by a queue that only holds what can still become the least.
      let end = head + length
      if (end >= size) end -= size
      while (length) {
        const last = end ? end - 1 : size - 1
        if (queueGain[last]! < wanted) break
        end = last
        length--
      }
      queueAt[end] = now
      queueGain[end] = wanted
      length++
      if (queueAt[head]! <= now - ahead) {
        if (++head === size) head = 0
        length--
      }
      now++
      const next = queueGain[head]!
      held = next < held ? next : held + (next - held) * back
      // Its mean over the way ahead arrives at the least just when the peak does.
      sum += held - factors[factorAt]!
      factors[factorAt] = held
      if (++factorAt === ahead) factorAt = 0
      const mean = sum * share
      const factor = mean < 1 ? mean : 1
      if (factor < least) least = factor
      const l = left[i]!
      const r = right[i]!
      left[i] = waiting.left[at]! * factor
      right[i] = waiting.right[at]! * factor
      waiting.left[at] = l
      waiting.right[at] = r
      if (++at === Limiter.delay) at = 0
    }
    this.head = head
    this.length = length
    this.now = now
    this.held = held
    this.sum = sum
    this.factorAt = factorAt
    this.at = at
    this.least = least
  }

  /** The least factor since this was last asked for: how much is taken away. */
  reduction(): number {
    const least = this.least
    this.least = 1
    return least
  }
}
