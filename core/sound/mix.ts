import type { Lane, Recording } from './lane.ts'
import { LaneRunner } from './laneRunner.ts'
import { Limiter } from './signal/limiter.ts'
import { blockSize, type Stereo, stereo } from './signal/stereo.ts'

/**
 * Lanes heard together, from any sample on, with nothing over -1 dB of true peak. Blocks lie on a grid from sample 0, so that
 * the same sound has the same samples wherever it is begun, but for voices that run through: those begin anew there.
 */
export class Mixer {
  private runners: LaneRunner[] = []
  private readonly block = stereo(blockSize)
  private limiter: Limiter | null = null
  private readonly limits: boolean
  /** Sample that the lanes give next, and how much of the block at hand is used. */
  private ahead = 0
  private used: number = blockSize
  private skip = 0

  /** `limits`: false for what somebody else mixes. */
  constructor(lanes: readonly Lane[], limits = true) {
    this.limits = limits
    this.take(lanes)
    this.seek(0)
  }

  /** Other lanes from now on; those that have not changed go on as they are. */
  take(lanes: readonly Lane[]): void {
    const before = new Map(this.runners.map((runner) => [runner.lane.signature, runner]))
    this.runners = lanes.map((lane) => before.get(lane.signature) ?? new LaneRunner(lane))
  }

  /** Goes on from this sample, a whole number. */
  seek(sample: number): void {
    this.limiter = this.limits ? new Limiter() : null
    const first = Math.floor(sample / blockSize) * blockSize
    this.ahead = first
    this.used = blockSize
    // What the limiter gives at first is of before.
    this.skip = sample - first + (this.limits ? Limiter.delay : 0)
  }

  /** Writes the next samples, `from` up to `to`. */
  next(out: Stereo, from = 0, to = out.left.length): void {
    for (; this.skip > 0; this.skip--) {
      if (this.used === blockSize) this.make()
      this.used++
    }
    for (let at = from; at < to;) {
      if (this.used === blockSize) this.make()
      const count = Math.min(to - at, blockSize - this.used)
      out.left.set(this.block.left.subarray(this.used, this.used + count), at)
      out.right.set(this.block.right.subarray(this.used, this.used + count), at)
      this.used += count
      at += count
    }
  }

  /** Makes ahead what takes long, one piece at every step: see {@link LaneRunner.strokesBetween}. */
  *strokesBetween(from: number, to: number): Generator<void> {
    for (const runner of this.runners) yield* runner.strokesBetween(from, to)
  }

  /** What of recordings is read for the next `count` samples, at most. */
  needs(count: number): { take: Recording; from: number; to: number }[] {
    return this.runners.flatMap((runner) => runner.needs(this.ahead, count + 2 * blockSize))
  }

  /** Sample after which nothing rings any more. */
  get end(): number {
    return this.runners.reduce((end, runner) => Math.max(end, runner.end), 0)
  }

  /** Least factor of the limiter since it was last asked for. */
  reduction(): number {
    return this.limiter?.reduction() ?? 1
  }

  private make(): void {
    const { block } = this
    block.left.fill(0)
    block.right.fill(0)
    for (const runner of this.runners) runner.add(block, this.ahead, blockSize)
    this.limiter?.run(block)
    this.ahead += blockSize
    this.used = 0
  }
}
