import * as Comlink from 'comlink'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Key } from '#core/records/types.ts'
import { partKind } from '#core/shapes/registry.ts'
import { likelyShape, tracedPart } from '#core/shapes/riding.ts'
import { edgeOf } from '#core/shapes/traced.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { backdropFrames } from '#core/tracking/background.ts'
import { follow, type FollowedFrame, type FollowResult } from '#core/tracking/follow.ts'
import type { PlaneModel } from '#core/tracking/plane.ts'
import { type GetFrame, KeptPictures } from '../frames/keptPictures.ts'

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

/** Share of a run that reading its first frames counts as. */
const reading = 0.1

class Follower {
  private readonly pictures = new KeptPictures()
  private wanted = true

  /**
   * Follows one part. `frame` hands over decoded frames of the shot; `tell` is told of each frame as it is found,
   * `progressed` of how much is done, 0 to 1. Throws a sentence where nothing can be followed.
   */
  async follow(
    { records: list, part: id, behind, length, ...order }: FollowOrder,
    frame: GetFrame,
    tell: (one: FollowedFrame) => void,
    progressed: (share: number) => void,
  ): Promise<FollowResult> {
    this.wanted = true
    // Reading is a part of the work: of what stands behind a rod nothing is found yet.
    let [reads, work] = [0, 0]
    const read: GetFrame = (at) => {
      progressed(reading * Math.min(1, ++reads / backdropFrames))
      return frame(at)
    }
    const records = new Records(list)
    const part = records.get('part', id)!
    const kind = partKind(part.kind)
    const shown = ({ frame, points }: Key) => ({ frame, points: likelyShape(records, part, frame) ?? points })
    const all = records.childrenOf('key', id)
    const keys = all.filter(isHandKey).map(shown)
    const found = new Map(all.filter((key) => !isHandKey(key)).map((key) => [key.frame, key]))
    return await follow({
      ...order,
      ...{ kind, settings: part.settings, keys, found: tell },
      covered: (at) =>
        behind.flatMap((other) => {
          const one = records.get('part', other)
          const edge = one && edgeOf(tracedPart(records, one), at)
          return edge ? [edge] : []
        }),
      picture: (at) => this.pictures.get(at, work > 0 ? frame : read),
      backdrop: (at) => this.pictures.backdrops(length, work > 0 ? frame : read).at(at),
      progressed: (share) => {
        work = share
        progressed(reading + (1 - reading) * share)
      },
      stopped: () => !this.wanted,
      breathe: () => this.pictures.breathe(),
      earlier: (at) => {
        const key = found.get(at)
        return key ? shown(key).points : null
      },
    })
  }

  /** Ends the run under way; what it found until now comes back from it. */
  stop(): void {
    this.wanted = false
  }
}

export type FollowWorker = Comlink.Remote<Follower>
Comlink.expose(new Follower())
