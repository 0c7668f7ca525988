import type { Shot } from '../records/types.ts'
import { shotLength } from '../records/types.ts'
import type { FrameClock } from '../sound/clock.ts'
import type { Lane, Recording } from '../sound/lane.ts'
import { FrameLevels } from '../sound/level.ts'
import { Mixer } from '../sound/mix.ts'
import { soundRate, type Stereo, stereo } from '../sound/signal/stereo.ts'

/** Makes sure that stretches of recordings can be read. */
export type LoadTakes = (needs: { take: Recording; from: number; to: number }[]) => Promise<void>

/** Lanes mixed on their way into a file, from sample 0 on. What is cut at the end goes within ten milliseconds. */
export class Mixdown {
  /** Samples. */
  readonly length: number
  private readonly mixer: Mixer
  private readonly fade: number
  private readonly load: LoadTakes
  private done = 0

  /** `limits`: false for what somebody else mixes. */
  constructor(lanes: readonly Lane[], seconds: number, load: LoadTakes, limits = true) {
    this.mixer = new Mixer(lanes, limits)
    this.length = Math.round(seconds * soundRate)
    this.fade = Math.min(this.length, soundRate / 100)
    this.load = load
  }

  /** Writes the next `count` samples. */
  async next(out: Stereo, count: number): Promise<void> {
    await this.load(this.mixer.needs(count))
    this.mixer.next(out, 0, count)
    for (let i = Math.max(0, this.length - this.fade - this.done); i < count; i++) {
      const rest = Math.max(0, (this.length - 1 - this.done - i) / this.fade)
      out.left[i]! *= rest
      out.right[i]! *= rest
    }
    this.done += count
  }
}

/** Samples that levels are gathered from at once. */
const batch = 1024

/** Level of some lanes together on every frame of their shot. `between` is waited for after every piece: others have their turn then. */
export async function levelsOfLanes(
  lanes: readonly Lane[],
  shot: Shot,
  clock: FrameClock,
  limits: boolean,
  load: LoadTakes,
  between: () => Promise<void> | void = () => {},
): Promise<Float32Array> {
  const frames = Array.from({ length: shotLength(shot) }, (_, frame) => clock.sampleOf(frame) / soundRate)
  const gathered = new FrameLevels(frames)
  const mixer = new Mixer(lanes, limits)
  const out = stereo(batch)
  for (let at = 0; at < clock.end; at += batch) {
    await load(mixer.needs(batch))
    mixer.next(out)
    for (const side of [out.left, out.right]) gathered.add(side, at / soundRate, soundRate)
    await between()
  }
  return gathered.levels()
}
