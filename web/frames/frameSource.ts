import * as Comlink from 'comlink'
import type { PictureNeed } from '#core/effects/effect.ts'
import { type OtherFrame, placeOf, type Reduce } from '#core/render/painter.ts'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import type { Records } from '#core/records/records.ts'
import type { ClipPlace } from '#core/records/timing.ts'
import type { Between, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { sentenceOf } from '../ui/troubles.ts'
import { counted } from './counted.ts'

/** What a port to a decoder answers. */
interface Frames {
  get(frame: number, between: Between, reduce: Reduce): Promise<Yuv>
}
/** Gives a port to a clip's frames; `own` for the shot's own clip. Rejects with a sentence where it can not be had. */
export type AskForClip = (media: string, own: boolean) => Promise<MessagePort>

/** A clip that could not be had, and why in a sentence. */
export interface ClipTrouble {
  media: string
  sentence: string
}

interface Connected {
  frames: Promise<Comlink.Remote<Frames>>
  /** Calls under way, to be refused when the clip is put away: its port would never answer. */
  waiting: Set<(error: Error) => void>
}

/** Decoded frames of clips for a worker, straight from their decoders. */
export class FrameSource {
  private ask: AskForClip | null = null
  private readonly connected = new Map<string, Connected>()

  connect(ask: AskForClip): void {
    this.ask = ask
    this.connected.clear()
  }

  /** A clip is put away: it is asked for anew when it is next needed. */
  forget(media: string, own: boolean): void {
    const name = `${own} ${media}`
    const one = this.connected.get(name)
    this.connected.delete(name)
    for (const refuse of one?.waiting ?? []) refuse(new Refusal(say`The clip was closed.`))
  }

  /** A place in a clip; `reduce`: how much smaller it may come, where the clip is so large that this is quicker. */
  async get(media: string, own: boolean, { frame, between }: ClipPlace, reduce: Reduce = 1): Promise<Yuv> {
    const name = `${own} ${media}`
    let one = this.connected.get(name)
    if (!one) {
      if (!this.ask) throw new Refusal(say`No clip is open.`)
      const frames = this.ask(media, own).then((port) => Comlink.wrap<Frames>(port))
      this.connected.set(name, (one = { frames, waiting: new Set() }))
      frames.catch(() => this.connected.delete(name))
    }
    const { frames, waiting } = one
    return new Promise((done, refuse) => {
      waiting.add(refuse)
      frames
        .then((remote) => remote.get(frame, between, reduce))
        .then(counted)
        .then(done, refuse)
        .finally(() => waiting.delete(refuse))
    })
  }

  /** What other frames a frame of a shot needs. What can not be had is left out, and told. */
  async others(
    needs: readonly PictureNeed[],
    shot: Shot,
    records: Records,
    reduce: Reduce = 1,
  ): Promise<{ frames: OtherFrame[]; troubles: ClipTrouble[] }> {
    const troubles: ClipTrouble[] = []
    const found = await Promise.all(
      needs.map(async (need): Promise<OtherFrame | null> => {
        const place = placeOf(need, shot, records)
        if (!place) return null
        const yuv = this.get(place.media, place.own, place, place.own ? reduce : 1)
        // Of the shot's own clip the frame must be there, or the picture is not what it says.
        if (place.own) return { ...need, yuv: await yuv }
        try {
          return { ...need, yuv: await yuv }
        } catch (error) {
          troubles.push({ media: need.media, sentence: sentenceOf(error, say`read the clip`) })
          return null
        }
      }),
    )
    return { frames: found.filter((one) => one !== null), troubles }
  }
}
