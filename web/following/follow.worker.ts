import * as Comlink from 'comlink'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Key } from '#core/records/types.ts'
import { partKind } from '#core/shapes/registry.ts'
import { likelyShape, tracedPart } from '#core/shapes/riding.ts'
import { edgeOf } from '#core/shapes/traced.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { follow, type FollowedFrame, type FollowResult, type FollowTask } from '#core/tracking/follow.ts'
import type { PlaneModel } from '#core/tracking/plane.ts'
import { say } from '#core/say.ts'
import { type FramePort, KeptPictures } from '../frames/keptPictures.ts'
import { type Started, started } from '../frames/worker.ts'
import type { SightWorker } from './sight.worker.ts'

/** What is to be followed, and how. */
export interface FollowOrder {
  records: AnyRecord[]
  part: string
  model: PlaneModel
  /** See FollowTask. */
  edgeFreedom: number
  from: number
  to: number
  stopBelow: number
  /** Frames of the shot. */
  length: number
  /** Ids of parts that lie over it. */
  behind: string[]
}

const startSight = () =>
  started<SightWorker>(
    new Worker(new URL('./sight.worker.ts', import.meta.url), { type: 'module' }),
    say`read the picture`,
  )

class Follower {
  private readonly pictures = new KeptPictures()
  private sight: Started<SightWorker> | null = null
  private wanted = true

  /**
   * Follows one part. `frames` is a port to a {@link FramePort}; `tell` is told of each frame as it is found, `progressed`
   * of how much is done, 0 to 1. Throws a sentence where nothing can be followed.
   */
  async follow(
    { records: list, part: id, behind, length, ...order }: FollowOrder,
    frames: MessagePort,
    tell: (one: FollowedFrame) => void,
    progressed: (share: number) => void,
  ): Promise<FollowResult> {
    this.wanted = true
    const records = new Records(list)
    const part = records.get('part', id)!
    const kind = partKind(part.kind)
    const shown = ({ frame, points }: Key) => ({ frame, points: likelyShape(records, part, frame) ?? points })
    const all = records.childrenOf('key', id)
    const keys = all.filter(isHandKey).map(shown)
    const found = new Map(all.filter((key) => !isHandKey(key)).map((key) => [key.frame, key]))
    return await follow({
      ...order,
      ...(kind.kind === 'rod' ? await this.bySight(length, frames) : this.byPictures(frames)),
      ...{ kind, settings: part.settings, keys, found: tell, progressed },
      covered: (at) =>
        behind.flatMap((other) => {
          const one = records.get('part', other)
          const edge = one && edgeOf(tracedPart(records, one), at)
          return edge ? [edge] : []
        }),
      stopped: () => !this.wanted,
      breathe: () => this.pictures.breathe(),
      earlier: (at) => {
        const key = found.get(at)
        return key ? shown(key).points : null
      },
    })
  }

  /** A rod's frames are read by a worker of its own. */
  private async bySight(length: number, frames: MessagePort): Promise<Pick<FollowTask, 'see' | 'picture'>> {
    const { remote } = (this.sight ??= startSight())
    await remote.open(length, Comlink.transfer(frames, [frames]))
    return { see: (...asked) => remote.see(...asked), picture: unread }
  }

  private byPictures(frames: MessagePort): Pick<FollowTask, 'see' | 'picture'> {
    const remote = Comlink.wrap<FramePort>(frames)
    return { picture: (at) => this.pictures.get(at, (frame) => remote.get(frame)), see: unread }
  }

  /** Ends the run under way; what it found until now comes back from it. */
  stop(): void {
    this.wanted = false
  }
}

/** Of what is read in the other way. */
const unread = () => Promise.reject(new Error('This is not read here.'))

export type FollowWorker = Comlink.Remote<Follower>
Comlink.expose(new Follower())
