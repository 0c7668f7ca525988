/** Bars that are one in the coarse picture. */
const together = 32

/** How high a sound is: the largest of every bar, and of many bars together, so that an hour is drawn as quickly as a second. */
export class Waveform {
  private readonly fine: Float32Array
  private readonly coarse: Float32Array

  constructor(bars: number) {
    this.fine = new Float32Array(bars)
    this.coarse = new Float32Array(Math.ceil(bars / together))
  }

  get length(): number {
    return this.fine.length
  }

  /** Bars from `from` on are now known; what lies behind the end is left out. */
  set(from: number, bars: Float32Array): void {
    const { fine, coarse } = this
    const some = bars.subarray(0, Math.max(0, fine.length - from))
    fine.set(some, from)
    for (let k = Math.floor(from / together); k * together < from + some.length; k++) {
      let most = 0
      for (let i = k * together; i < Math.min(fine.length, (k + 1) * together); i++) most = Math.max(most, fine[i]!)
      coarse[k] = most
    }
  }

  /** The largest of the bars `from` up to `to`, one at least; in whole groups where there are many. */
  most(from: number, to: number): number {
    const wide = to - from > 2 * together
    const list = wide ? this.coarse : this.fine
    const size = wide ? together : 1
    const first = Math.max(0, Math.floor(from / size))
    const last = Math.min(list.length, Math.max(first + 1, Math.ceil(to / size)))
    let most = 0
    for (let i = first; i < last; i++) most = Math.max(most, list[i]!)
    return most
  }
}
