import type { Media } from '#core/records/types.ts'
import { timesOf } from './clipOf.ts'
import { Clips } from './clips.ts'
import type { ShownPicture } from './pictures.ts'
import type { RenderWorker } from './render.worker.ts'
import { startRenderer } from './start.ts'

/** Small pictures of clips for filmstrips, made one clip after the other by workers of their own. */
export class Strips {
  private workers: { renderer: RenderWorker; clips: Clips } | null = null
  private readonly media = new Map<string, Media>()
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
      if (!this.workers) {
        const renderer = startRenderer().remote
        this.workers = { renderer, clips: new Clips([renderer], (id) => this.media.get(id) ?? null) }
      }
      this.media.set(media.id, media)
      await this.workers.clips.openOwn(media, await timesOf(media), 'passing')
    })
    let before: Promise<unknown> = opened
    const pictures = frames.map((frame) => {
      const picture = before.then(
        () =>
          this.workers!.renderer.draw({
            ...{ shot: '', frame, layer: 'plate', member: '', reduce: 4, strength: 1, draft: null },
            result: { only: '', tinted: '', clipped: false, plate: false },
            clip: { media: media.id, place: { frame, between: 'repeated' }, before: { frame, between: 'repeated' } },
          }) as Promise<ShownPicture>,
      )
      before = picture
      // Whoever shows the strip sees the failure; it neither stops the next clip nor stays until the page is reloaded.
      picture.catch(() => this.known.delete(name))
      return picture
    })
    this.queue = before.catch(() => {})
    this.known.set(name, pictures)
    return pictures
  }
}

/** One for the page: what was made once stays. */
export const strips = new Strips()
