import * as Comlink from 'comlink'
import { backdropOf, follow, type Followed, type FollowResult } from '#core/follow/follow.ts'
import type { PlaneModel } from '#core/follow/plane.ts'
import { followPicture, type FollowPicture } from '#core/follow/picture.ts'
import type { Backdrop } from '#core/follow/backdrop.ts'
import { flatten } from '#core/geometry/path.ts'
import type { Yuv } from '#core/image/yuv.ts'
import { Records } from '#core/model/diff.ts'
import type { AnyRecord } from '#core/model/records.ts'
import { partKinds } from '#core/shapes/registry.ts'
import { likelyShape, shapeOf } from '#core/shapes/riding.ts'
import { isHandKey } from '#core/shapes/track.ts'

/** What is to be followed, and how. */
export interface FollowOrder {
  records: AnyRecord[]
  part: string
  model: PlaneModel
  /** See FollowTask. */
  letGo: number
  from: number
  to: number
  stopBelow: number
  /** Frames of the shot. */
  length: number
  /** Ids of parts that lie over it. */
  behind: string[]
}

/** Bytes of pictures that are kept for the way back. */
const budget = 400e6

class Follower {
  private readonly pictures = new Map<number, FollowPicture>()
  private bytes = 0
  /** Made once for the shot that this worker is about, and anew beyond a cut. */
  private backdrop: Backdrop | null = null
  private wanted = true
  private breathed = 0

  /**
   * Follows one part. `frame` hands over decoded frames of the shot; `found` is told of each frame as it is found. Throws
   * a sentence where nothing can be followed.
   */
  async follow(
    { records: list, part: id, behind, length, ...order }: FollowOrder,
    frame: (frame: number) => Promise<Yuv>,
    found: (one: Followed) => void,
  ): Promise<FollowResult> {
    this.wanted = true
    const records = new Records(list)
    const part = records.get('part', id)!
    const kind = partKinds[part.kind]
    const keys = records
      .childrenOf('key', id)
      .filter(isHandKey)
      .map((key) => ({ frame: key.frame, points: likelyShape(records, part, key.frame) ?? key.points }))
    return await follow({
      ...order,
      ...{ kind, settings: part.settings, keys, found },
      covered: (at) =>
        behind.flatMap((other) => {
          const one = records.get('part', other)
          const points = one && shapeOf(records, one, at)
          return points ? [flatten(partKinds[one.kind].path(points, one.settings), 1)] : []
        }),
      picture: (at) => this.picture(at, frame),
      backdrop: (at) => this.backdropAt(at, length, (one) => this.picture(one, frame)),
      stopped: () => !this.wanted,
    })
  }

  /** Ends the run under way; what it found until now comes back from it. */
  stop(): void {
    this.wanted = false
  }

  private async backdropAt(
    frame: number,
    length: number,
    picture: (frame: number) => Promise<FollowPicture>,
  ): Promise<Backdrop> {
    if (!this.backdrop?.motion(await picture(frame))) this.backdrop = await backdropOf(frame, length, picture)
    return this.backdrop
  }

  private async picture(frame: number, get: (frame: number) => Promise<Yuv>): Promise<FollowPicture> {
    // What is kept comes at once; the order to stop must come through all the same.
    if (performance.now() - this.breathed > 40) {
      await new Promise((done) => setTimeout(done))
      this.breathed = performance.now()
    }
    const known = this.pictures.get(frame)
    if (known) return known
    const picture = followPicture(await get(frame))
    this.pictures.set(frame, picture)
    this.bytes += 2 * picture.luma.length
    for (const [oldest, one] of this.pictures) {
      if (this.bytes <= budget) break
      this.pictures.delete(oldest)
      this.bytes -= 2 * one.luma.length
    }
    return picture
  }
}

export type FollowWorker = Comlink.Remote<Follower>
Comlink.expose(new Follower())
