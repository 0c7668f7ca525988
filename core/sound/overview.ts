import type { Lane, Recording } from './lane.ts'
import { LaneRunner } from './laneRunner.ts'
import { Limiter } from './signal/limiter.ts'
import { type Loudness, LoudnessMeter } from './signal/loudness.ts'
import { blockSize, decibelsOf, stereo } from './signal/stereo.ts'
import { TruePeak } from './signal/truePeak.ts'

/** Samples to a bar of a waveform. */
export const barSize = 2 * blockSize

/** Goes through all of the sound once: how high every lane is, and how loud they are together. */
export class Overview {
  /** Largest of both channels on every bar of each lane, in the order of the lanes. */
  readonly bars: Float32Array[]
  private readonly runners: LaneRunner[]
  private readonly own = stereo(blockSize)
  private readonly sum = stereo(blockSize)
  private readonly limiter = new Limiter()
  private readonly meter = new LoudnessMeter()
  private readonly peaks = [new TruePeak(), new TruePeak()] as const
  /** Sample that comes next. */
  at = 0
  private readonly length: number

  /** `length` in samples. */
  constructor(lanes: readonly Lane[], length: number) {
    this.length = length
    this.runners = lanes.map((lane) => new LaneRunner(lane))
    this.bars = lanes.map(() => new Float32Array(Math.ceil(length / barSize)))
  }

  get done(): boolean {
    return this.at >= this.length
  }

  /** What of recordings is read for the next `count` samples, at most. */
  needs(count: number): { take: Recording; from: number; to: number }[] {
    return this.runners.flatMap((runner) => runner.needs(this.at, count + blockSize))
  }

  /** Goes on by so many blocks. */
  go(blocks: number): void {
    const { own, sum } = this
    for (let k = 0; k < blocks && !this.done; k++, this.at += blockSize) {
      sum.left.fill(0)
      sum.right.fill(0)
      const bar = Math.floor(this.at / barSize)
      for (const [i, runner] of this.runners.entries()) {
        own.left.fill(0)
        own.right.fill(0)
        runner.add(own, this.at, blockSize)
        let most = this.bars[i]![bar]!
        for (let n = 0; n < blockSize; n++) {
          most = Math.max(most, Math.abs(own.left[n]!), Math.abs(own.right[n]!))
          sum.left[n]! += own.left[n]!
          sum.right[n]! += own.right[n]!
        }
        this.bars[i]![bar] = most
      }
      this.limiter.run(sum)
      this.meter.add([sum.left, sum.right])
      this.peaks[0].take(sum.left)
      this.peaks[1].take(sum.right)
    }
  }

  /** Loudness of all so far, its true peak in decibels, and by how many decibels the limiter held it down at most. */
  loudness(): Loudness & { truePeak: number; held: number } {
    this.least = Math.min(this.least, this.limiter.reduction())
    return {
      ...this.meter.now(),
      truePeak: decibelsOf(Math.max(this.peaks[0].most, this.peaks[1].most)),
      held: -decibelsOf(this.least),
    }
  }
  private least = 1
}
