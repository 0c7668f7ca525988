import type { Media } from '#core/records/types.ts'
import type { DecodeWorker } from './decode.worker.ts'
import type { RenderWorker } from './render.worker.ts'
import { startDecoder, startRenderer } from './start.ts'
import { clipOf, timesOf } from './clipOf.ts'
import type { ShownPicture } from './pictures.ts'

/** Small pictures of clips for filmstrips, made one clip after the other by workers of their own. */
export class Strips {
  private decoder: DecodeWorker | null = null
  private renderer: RenderWorker | null = null
  private readonly known = new Map<string, Promise<ShownPicture>[]>()
  private queue: Promise<unknown> = Promise.resolve()

  /** `count` pictures spread evenly over the clip, each as soon as it is ready. */
  of(media: Media, count: number): Promise<ShownPicture>[] {
    const name = `${media.hash} ${count}`
    const known = this.known.get(name)
    if (known) return known
    const frames = Array.from({ length: count }, (_, i) =>
      Math.min(media.frames - 1, Math.floor(((i + 0.5) * media.frames) / count)),
    )
    const opened = this.queue.then(async () => {
      this.decoder ??= startDecoder().remote
      this.renderer ??= startRenderer().remote
      await this.decoder.open(clipOf(media, await timesOf(media)), 24 * 1024 ** 2)
    })
    let before: Promise<unknown> = opened
    const pictures = frames.map((frame) => {
      const picture = before.then(
        async () =>
          this.renderer!.draw({
            ...{ shot: '', frame, before: null, layer: 'plate', member: '', reduce: 4, strength: 1, draft: null },
            others: [],
            seeing: { only: '', tinted: '', clipped: false, plate: false },
            yuv: await this.decoder!.get(frame),
          }) as Promise<ShownPicture>,
      )
      before = picture
      // Whoever shows the strip sees the failure; here it must only not stop the next clip.
      picture.catch(() => {})
      return picture
    })
    this.queue = before.catch(() => {})
    this.known.set(name, pictures)
    return pictures
  }
}

/** One for the page: what was made once stays. */
export const strips = new Strips()
