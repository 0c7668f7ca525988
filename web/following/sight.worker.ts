import * as Comlink from 'comlink'
import { type RodView, type See, seeing } from '#core/tracking/rod/view.ts'
import { type FramePort, type GetFrame, KeptPictures } from '../frames/keptPictures.ts'

/** Sees the frames of one shot for whoever follows a rod through them, who works on meanwhile. */
class Sight {
  private readonly pictures = new KeptPictures()
  private seen: See | null = null

  /** From here on frames of a shot of `length` frames come by `frames`, a port to a {@link FramePort}. */
  open(length: number, frames: MessagePort): void {
    const remote = Comlink.wrap<FramePort>(frames)
    const fetch: GetFrame = (frame) => remote.get(frame)
    this.seen = seeing((frame) => this.pictures.get(frame, fetch), this.pictures.backdrops(length, fetch))
  }

  /** See {@link See}. */
  async see(...asked: Parameters<See>): Promise<RodView | null> {
    const view = await this.seen!(...asked)
    return view && Comlink.transfer(view, [view.data.buffer])
  }
}

export type SightWorker = Comlink.Remote<Sight>
Comlink.expose(new Sight())
