import { coarseness, mixName, type ReadingsAsked } from '#core/motion/readings.ts'
import type { Luma } from '#core/pixels/buffers/luma.ts'
import type { Media } from '#core/records/types.ts'
import type { DecodeWorker } from './decode.worker.ts'
import type { RenderWorker } from './render.worker.ts'

/** Frames that are told at once: a second of film. */
const batch = 24

/** Where readings come from. */
export interface Sources {
  mediaOf(id: string): Media | null
  /** The decoder of a clip, or null where it can not be had. */
  decoderOf(media: Media): Promise<DecodeWorker | null>
  /** How loud a sound of a shot is on its frames, and what changes when that does; null where it can not be had. */
  mixOf(shot: string, of: string): Promise<{ signature: string; levels: Float32Array } | null>
}

/**
 * Reads off pictures and sounds what drives ask for, and tells all renderers. What was told once is kept in mind: `told`
 * holds the names of it.
 */
export class ReadingsTeller {
  private readonly told = new Set<string>()
  /** What the sounds that were told last were like. */
  private readonly mixes = new Map<string, string>()

  /** `onPart`: something new was told. Stops as soon as `goOn` says so. */
  async tell(
    { seen, heard, mixed }: ReadingsAsked,
    renderers: RenderWorker[],
    { mediaOf, decoderOf, mixOf }: Sources,
    onPart: () => void = () => {},
    goOn: () => boolean = () => true,
  ): Promise<void> {
    for (const id of heard) {
      const media = mediaOf(id)
      // By the clip's id, too: renderers know it by that, and another project has the same file under another one.
      const name = `sound ${id} ${media?.hash}`
      if (!media || this.told.has(name)) continue
      const levels = await (await decoderOf(media))?.levels()
      if (!goOn()) return
      this.told.add(name)
      if (!levels) continue
      await Promise.all(renderers.map((renderer) => renderer.hear(id, levels)))
      onPart()
    }
    for (const { shot, of } of mixed) {
      const name = mixName(shot, of)
      const mix = await mixOf(shot, of)
      if (!goOn()) return
      if (!mix || this.mixes.get(name) === mix.signature) continue
      this.mixes.set(name, mix.signature)
      await Promise.all(renderers.map((renderer) => renderer.hear(name, mix.levels)))
      onPart()
    }
    for (const { media: id, from, to } of seen) {
      const media = mediaOf(id)
      const decoder = media && (await decoderOf(media))
      if (!media || !decoder) continue
      const reduce = coarseness(media, to - from)
      const nameOf = (frame: number) => `${id} ${media.hash} ${frame} ${reduce}`
      const missing = Array.from({ length: to - from }, (_, i) => from + i).filter((one) => !this.told.has(nameOf(one)))
      // Told in batches: a renderer builds its scenes anew after each.
      for (let start = 0; start < missing.length; start += batch) {
        const frames: { frame: number; luma: Luma }[] = []
        for (const frame of missing.slice(start, start + batch)) {
          frames.push({ frame, luma: await decoder.luma(frame, reduce) })
          if (!goOn()) return
        }
        await Promise.all(renderers.map((renderer) => renderer.see(id, frames)))
        for (const { frame } of frames) this.told.add(nameOf(frame))
        onPart()
      }
    }
  }
}
