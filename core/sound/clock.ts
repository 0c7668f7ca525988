import { soundRate } from './signal/stereo.ts'

/** When the frames of a shot are shown, in samples of the sound. */
export class FrameClock {
  /** Samples before the shot's first frame. */
  readonly start: number
  /** Frames of the shot. */
  readonly length: number
  private readonly rate: number
  private readonly times: readonly number[] | null

  /**
   * `rate`: frames a second where they are constant; else `times`, seconds of every frame and of the end after the last,
   * counted from the first one.
   */
  constructor(length: number, rate: number, times: readonly number[] | null = null, start = 0) {
    this.length = length
    this.rate = rate
    this.times = times
    this.start = start
  }

  /** The same shot, so many samples later. */
  after(samples: number): FrameClock {
    return new FrameClock(this.length, this.rate, this.times, this.start + samples)
  }

  /** Sample at which a frame, a real number, is shown; before and after the shot its rate goes on. Not rounded. */
  sampleOf(frame: number): number {
    return this.start + soundRate * this.secondsOf(frame)
  }

  /** The frame, a real number, that is shown at a sample. */
  frameAt(sample: number): number {
    const time = (sample - this.start) / soundRate
    const { times } = this
    if (!times) return time * this.rate
    if (time <= 0) return time * this.rate
    const end = times.at(-1)!
    if (time >= end) return this.length + (time - end) * this.rate
    let [low, high] = [0, times.length - 1]
    while (high - low > 1) {
      const mid = (low + high) >> 1
      if (times[mid]! <= time) low = mid
      else high = mid
    }
    return low + (time - times[low]!) / Math.max(1e-9, times[high]! - times[low]!)
  }

  /** Sample after the shot's last frame. */
  get end(): number {
    return this.sampleOf(this.length)
  }

  private secondsOf(frame: number): number {
    const { times } = this
    if (!times || frame < 0) return frame / this.rate
    const whole = Math.floor(frame)
    if (whole >= times.length - 1) return times.at(-1)! + (frame - (times.length - 1)) / this.rate
    return times[whole]! + (frame - whole) * (times[whole + 1]! - times[whole]!)
  }
}
