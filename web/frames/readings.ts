import { coarseness, type ReadingsAsked } from '#core/motion/readings.ts'
import type { Media } from '#core/model/records.ts'
import type { DecodeWorker } from '../workers/decode.worker.ts'
import type { RenderWorker } from '../workers/render.worker.ts'

/**
 * Reads off pictures and sounds what drives ask for, and tells all renderers. What was told once is kept in mind: `told`
 * holds the names of it.
 */
export class ReadingsTeller {
  private readonly told = new Set<string>()

  /**
   * `decoderOf`: the decoder of a clip, or null where it can not be had. `onPart`: something new was told. Stops as soon as
   * `goOn` says so.
   */
  async tell(
    { seen, heard }: ReadingsAsked,
    renderers: RenderWorker[],
    mediaOf: (id: string) => Media | null,
    decoderOf: (media: Media) => Promise<DecodeWorker | null>,
    onPart: () => void = () => {},
    goOn: () => boolean = () => true,
  ): Promise<void> {
    for (const id of heard) {
      const media = mediaOf(id)
      if (!media || this.told.has(`sound ${media.hash}`)) continue
      const levels = await (await decoderOf(media))?.levels()
      if (!goOn()) return
      this.told.add(`sound ${media.hash}`)
      if (!levels) continue
      await Promise.all(renderers.map((renderer) => renderer.hear(id, levels)))
      onPart()
    }
    for (const { media: id, from, to } of seen) {
      const media = mediaOf(id)
      const decoder = media && (await decoderOf(media))
      if (!media || !decoder) continue
      const reduce = coarseness(media, to - from)
      for (let frame = from; frame < to; frame++) {
        const name = `${media.hash} ${frame} ${reduce}`
        if (this.told.has(name)) continue
        const luma = await decoder.luma(frame, reduce)
        if (!goOn()) return
        this.told.add(name)
        await Promise.all(renderers.map((renderer) => renderer.see(id, frame, luma)))
        if (frame % 24 === 23 || frame === to - 1) onPart()
      }
    }
  }
}
