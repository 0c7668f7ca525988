import { LRUCache } from 'lru-cache'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import type { Backdrop } from '#core/tracking/background.ts'
import { backdropOf } from '#core/tracking/follow.ts'
import { followPicture, type FollowPicture } from '#core/tracking/frame.ts'

/** Hands over a decoded frame of the shot. */
export type GetFrame = (frame: number) => Promise<Yuv>

/** Bytes of pictures that are kept for the way back. */
const budget = 400e6

/** Pictures of one shot as followers read them, kept as far as memory goes, and the backdrop made of them. */
export class KeptPictures {
  private readonly pictures = new LRUCache<number, FollowPicture>({
    maxSize: budget,
    sizeCalculation: ({ luma }) => 2 * luma.length,
  })
  private backdrop: Backdrop | null = null
  private breathed = 0

  async get(frame: number, fetch: GetFrame): Promise<FollowPicture> {
    // What is kept comes at once; the order to stop must come through all the same.
    if (performance.now() - this.breathed > 40) {
      await new Promise((done) => setTimeout(done))
      this.breathed = performance.now()
    }
    const known = this.pictures.get(frame)
    if (known) return known
    const picture = followPicture(await fetch(frame))
    this.pictures.set(frame, picture)
    return picture
  }

  /** The backdrop that knows a frame: made once, and anew beyond a cut. `length`: frames of the shot. */
  async backdropAt(frame: number, length: number, fetch: GetFrame): Promise<Backdrop> {
    if (!this.backdrop?.motion(await this.get(frame, fetch)))
      this.backdrop = await backdropOf(frame, length, (one) => this.get(one, fetch))
    return this.backdrop
  }
}
