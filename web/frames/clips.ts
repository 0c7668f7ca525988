import * as Comlink from 'comlink'
import { LRUCache } from 'lru-cache'
import type { Media } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { attend } from '../ui/troubles.ts'
import { clipOf, timesOf } from './clipOf.ts'
import type { DecodeWorker } from './decode.worker.ts'
import type { Share } from './memory.ts'
import type { RenderWorker } from './render.worker.ts'
import { startDecoder } from './start.ts'
import type { Started } from './worker.ts'

/** Clips beside the shot's own that stay open at once. */
const most = 4

interface OpenClip {
  media: Media
  started: Started<DecodeWorker>
  ready: Promise<void>
}

/**
 * Decoders of clips, opened when they are asked for. Renderers reach them by ports of their own, so that a decoded frame goes
 * from the one to the other and never through the page. A shot's own clip has a decoder to itself, which is read ahead; the
 * same clip inserted is another one.
 */
export class Clips {
  private readonly others = new LRUCache<string, OpenClip>({
    max: most,
    dispose: ({ started }, id) => {
      this.forget(id, false)
      started.stop()
    },
  })
  private own: OpenClip | null = null
  /** Reads its code while it is not known yet what is to be opened. */
  private spare: Started<DecodeWorker> | null = null
  private readonly renderers: RenderWorker[]
  private readonly mediaOf: (id: string) => Media | null

  constructor(renderers: RenderWorker[], mediaOf: (id: string) => Media | null) {
    this.renderers = renderers
    this.mediaOf = mediaOf
    for (const renderer of renderers)
      attend(
        renderer.connect(Comlink.proxy((media: string, own: boolean) => this.port(media, own))),
        say`start making pictures`,
      )
  }

  /** Has a decoder ready for the clip that is opened first. */
  makeReady(): void {
    if (!this.own) this.spare ??= startDecoder()
  }

  /** Opens a shot's own clip, in place of the one before. Throws a sentence where it can not be decoded. */
  async openOwn(media: Media, times: number[], share: Share = 'decoded'): Promise<DecodeWorker> {
    if (this.own?.media.hash !== media.hash || this.own.media.id !== media.id) {
      const before = this.own
      if (before) this.forget(before.media.id, true)
      // The worker goes on with another clip: that is quicker than a new one.
      const started = before?.started ?? this.spare ?? startDecoder()
      this.spare = null
      this.own = { media, started, ready: started.remote.open(clipOf(media, times), share).then(() => {}) }
    }
    const { started, ready } = this.own
    try {
      await ready
    } catch (error) {
      // Tried again from the start when it is next asked for.
      if (this.own?.ready === ready) {
        this.own = null
        started.stop()
      }
      throw error
    }
    return started.remote
  }

  /** The decoder of the shot's own clip; null while none is open. */
  get ownDecoder(): DecodeWorker | null {
    return this.own?.started.remote ?? null
  }

  /** The decoder of a clip beside the shot's own, kept open for a while. Throws a sentence where it can not be had. */
  async decoderOf(media: Media): Promise<DecodeWorker> {
    let known = this.others.get(media.id)
    if (!known) {
      const started = startDecoder()
      const ready = timesOf(media).then((times) => started.remote.open(clipOf(media, times), 'beside').then(() => {}))
      known = { media, started, ready }
      this.others.set(media.id, known)
    }
    try {
      await known.ready
    } catch (error) {
      this.others.delete(media.id)
      throw error
    }
    return known.started.remote
  }

  stop(): void {
    this.others.clear()
    this.spare?.stop()
    this.spare = null
    this.own?.started.stop()
    this.own = null
  }

  /** A way for a renderer to a clip's frames. */
  private async port(id: string, own: boolean): Promise<MessagePort> {
    const media = this.mediaOf(id)
    if (own && this.own?.media.id === id) await this.own.ready
    else if (own) throw new Refusal(say`The clip was closed.`)
    else if (!media) throw new Refusal(say`The clip is not in this project any more; choose another one on its card.`)
    const decoder = own ? this.own!.started.remote : await this.decoderOf(media!)
    const { port1, port2 } = new MessageChannel()
    await decoder.serve(Comlink.transfer(port1, [port1]))
    return Comlink.transfer(port2, [port2])
  }

  private forget(id: string, own: boolean): void {
    for (const renderer of this.renderers) attend(renderer.forget(id, own), say`put the clip away`)
  }
}
