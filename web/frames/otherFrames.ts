import type { PictureNeed } from '#core/effects/effect.ts'
import type { Media, Shot } from '#core/records/types.ts'
import type { DecodeWorker } from './decode.worker.ts'
import type { OtherFrame } from './render.worker.ts'
import { startDecoder, type Started } from './start.ts'
import { clipOf, timesOf } from './clipOf.ts'

/** Bytes of decoded frames that each inserted clip keeps. */
const budget = 96 * 1024 ** 2
/** Inserted clips that stay open at once. */
const most = 4

/** Gives decoded frames that a frame's effects are made from: of the shot's own clip and of others. */
export class OtherFrames {
  private readonly open = new Map<string, { started: Started<DecodeWorker>; ready: Promise<void> }>()
  private readonly onTrouble: (media: string, sentence: string) => void
  private readonly mediaOf: (id: string) => Media | null

  /** `onTrouble`: a clip can not be had, and why in a sentence. */
  constructor(mediaOf: (id: string) => Media | null, onTrouble: (media: string, sentence: string) => void = () => {}) {
    this.mediaOf = mediaOf
    this.onTrouble = onTrouble
  }

  /** What can not be had is left out: its card says so. */
  async get(needs: PictureNeed[], shot: Shot, own: DecodeWorker): Promise<OtherFrame[]> {
    const found = await Promise.all(needs.map((need) => this.one(need, shot, own)))
    return found.filter((one) => one !== null)
  }

  private async one(need: PictureNeed, shot: Shot, own: DecodeWorker): Promise<OtherFrame | null> {
    if (!need.media) {
      const frame = Math.min(shot.out - 1, Math.max(shot.in, shot.in + need.frame))
      return { ...need, yuv: await own.get(frame) }
    }
    const media = this.mediaOf(need.media)
    if (!media) return null
    try {
      const decoder = await this.decoderOf(media)
      const frame = need.loop
        ? ((need.frame % media.frames) + media.frames) % media.frames
        : Math.min(media.frames - 1, Math.max(0, need.frame))
      return { ...need, yuv: await decoder.get(frame) }
    } catch (error) {
      this.onTrouble(media.id, (error as Error).message)
      return null
    }
  }

  /** The decoder of a clip, kept open for a while. */
  async decoderOf(media: Media): Promise<DecodeWorker> {
    let known = this.open.get(media.hash)
    if (!known) {
      const started = startDecoder()
      const ready = timesOf(media)
        .then((times) => started.remote.open(clipOf(media, times), budget))
        .then(() => {})
      known = { started, ready }
      this.open.set(media.hash, known)
      const [oldest] = this.open.keys()
      if (this.open.size > most && oldest) {
        this.open.get(oldest)!.started.stop()
        this.open.delete(oldest)
      }
    }
    await known.ready
    return known.started.remote
  }

  stop(): void {
    for (const { started } of this.open.values()) started.stop()
    this.open.clear()
  }
}
