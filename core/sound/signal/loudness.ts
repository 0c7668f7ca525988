import { Biquad } from './biquad.ts'
import { soundRate } from './stereo.ts'

/** Loudness in LUFS; -Infinity where there is nothing to be heard. */
export interface Loudness {
  /** Of the last 400 ms, of the last 3 s, and of everything so far, with silence left out. */
  momentary: number
  shortTerm: number
  integrated: number
}

/** Samples from one reading to the next: 50 ms. */
const hop = soundRate / 20
const momentaryHops = 8
const shortHops = 60

/**
 * Loudness by ITU-R BS.1770-4: filtered for how the head and the ear hear, mean squares summed over the channels, and for the
 * whole gated at -70 LUFS and then 10 LU below what is left. Coefficients for 48 kHz from the recommendation's tables 1 and 2.
 */
export class LoudnessMeter {
  private readonly filters: [Biquad, Biquad][]
  private readonly weights: readonly number[]
  /** Energies of the last 3 s, a hop each, in a ring. */
  private readonly ring = new Float64Array(shortHops)
  private hops = 0
  private filled = 0
  private energy = 0
  /** Energy of every block of 400 ms, a quarter of it from one to the next. */
  private readonly blocks: number[] = []

  /** Weights of the channels: 1 each but 1.41 for surrounds, 0 for low effects. */
  constructor(weights: readonly number[] = [1, 1]) {
    this.weights = weights
    this.filters = weights.map(() => [
      new Biquad().take(1.53512485958697, -2.69169618940638, 1.19839281085285, 1, -1.69065929318241, 0.73248077421585),
      new Biquad().take(1, -2, 1, 1, -1.99004745483398, 0.99007225036621),
    ])
  }

  /** Samples of every channel, `from` up to `to`. `onHop` is called after every 50 ms. */
  add(channels: readonly Float32Array[], from = 0, to = channels[0]!.length, onHop?: (now: Loudness) => void): void {
    for (let i = from; i < to; i++) {
      for (let c = 0; c < this.filters.length; c++) {
        const [head, ear] = this.filters[c]!
        const y = ear.step(head.step(channels[c]![i]!))
        this.energy += this.weights[c]! * y * y
      }
      if (++this.filled < hop) continue
      this.ring[this.hops % shortHops] = this.energy / hop
      this.hops++
      this.energy = this.filled = 0
      if (this.hops >= momentaryHops && this.hops % 2 === 0) this.blocks.push(this.mean(momentaryHops))
      onHop?.(this.now())
    }
  }

  now(): Loudness {
    return {
      momentary: loudnessOf(this.mean(momentaryHops)),
      shortTerm: loudnessOf(this.mean(shortHops)),
      integrated: this.integrated(),
    }
  }

  /** Gated loudness of everything so far. */
  integrated(): number {
    const aboveGate = (gate: number) => {
      let [sum, count] = [0, 0]
      for (const energy of this.blocks)
        if (loudnessOf(energy) > gate) {
          sum += energy
          count++
        }
      return count ? sum / count : 0
    }
    const loud = aboveGate(-70)
    return loud ? loudnessOf(aboveGate(loudnessOf(loud) - 10)) : -Infinity
  }

  private mean(hops: number): number {
    let sum = 0
    for (let k = 1; k <= hops; k++) sum += this.hops >= k ? this.ring[(this.hops - k) % shortHops]! : 0
    return sum / hops
  }
}

const loudnessOf = (energy: number): number => (energy > 0 ? -0.691 + 10 * Math.log10(energy) : -Infinity)
