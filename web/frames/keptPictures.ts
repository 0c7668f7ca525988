import { LRUCache } from 'lru-cache'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import { Backdrops } from '#core/tracking/backdrops.ts'
import { followPicture, type FollowPicture } from '#core/tracking/frame.ts'
import { counted } from './counted.ts'
import { hearMemory, mayHold, onMemory } from './memory.ts'

/** Hands over a decoded frame of the shot. */
export type GetFrame = (frame: number) => Promise<Yuv>
/** The same through a port: to whichever worker reads them, without a way round. */
export interface FramePort {
  get: GetFrame
}

const storeOf = () =>
  new LRUCache<number, FollowPicture>({
    maxSize: mayHold('followed'),
    sizeCalculation: ({ luma }) => 2 * luma.length,
  })

/** Pictures of one shot as followers read them, kept as far as memory goes, and the backdrops made of them. */
export class KeptPictures {
  private pictures = storeOf()
  private behind: Backdrops | null = null
  private fetch: GetFrame | null = null
  private breathed = 0

  constructor() {
    onMemory(() => {
      const before = this.pictures
      this.pictures = storeOf()
      before.rforEach((picture, frame) => this.pictures.set(frame, picture))
    })
    hearMemory()
  }

  /** Lets messages in, the order to stop among them, where none had a turn for a while. */
  async breathe(): Promise<void> {
    if (performance.now() - this.breathed < 40) return
    await new Promise((done) => setTimeout(done))
    this.breathed = performance.now()
  }

  async get(frame: number, fetch: GetFrame): Promise<FollowPicture> {
    // What is kept comes at once.
    await this.breathe()
    const known = this.pictures.get(frame)
    if (known) return known
    const picture = followPicture(counted(await fetch(frame)))
    this.pictures.set(frame, picture)
    return picture
  }

  /** What stands behind everything that moves in a shot of `length` frames. */
  backdrops(length: number, fetch: GetFrame): Backdrops {
    this.fetch = fetch
    return (this.behind ??= new Backdrops(length, (frame) => this.get(frame, this.fetch!)))
  }
}
