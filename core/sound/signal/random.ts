import type { Stereo } from './stereo.ts'

/** Chances one after the other, the same from the same seed (T. Ettinger's mulberry32). */
export class Chances {
  private state: number
  constructor(seed: number) {
    this.state = (Math.imul(seed | 0, 0x9e3779b1) ^ 0x6d2b79f5) | 0
    this.next()
  }
  /** 0 up to 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) | 0
    let t = Math.imul(this.state ^ (this.state >>> 15), 1 | this.state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  /** White noise, -1 to 1. */
  noise(): number {
    return 2 * this.next() - 1
  }
  /** White noise of two channels that know nothing of each other, -1 to 1, from 0 up to `count`: 16 bits of each chance for either. */
  fill({ left, right }: Stereo, count: number): void {
    // With the state in a plain variable.
    let state = this.state
    for (let i = 0; i < count; i++) {
      state = (state + 0x6d2b79f5) | 0
      let t = Math.imul(state ^ (state >>> 15), 1 | state)
      t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
      t ^= t >>> 14
      left[i] = (t >> 16) / 32768
      right[i] = ((t << 16) >> 16) / 32768
    }
    this.state = state
  }
  /** `low` up to `high`. */
  between(low: number, high: number): number {
    return low + (high - low) * this.next()
  }
}
