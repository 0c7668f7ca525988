import * as Comlink from 'comlink'
import { fullRate } from '#core/formats/rate.ts'
import type { AnyRecord, Media, Shot } from '#core/model/records.ts'
import { api } from '../api.ts'
import type { DecodeWorker } from '../workers/decode.worker.ts'
import type { EncodeWorker, VideoFileOptions } from '../workers/encode.worker.ts'
import { clipOf } from './clipOf.ts'
import { OtherFrames } from './otherFrames.ts'
import type { Content, RenderWorker } from '../workers/render.worker.ts'
import { rendererCount, startDecoder, startEncoder, startRenderer } from '../workers/start.ts'

export type FileKind = 'mp4' | 'webm' | 'png'

export interface RenderOrder {
  shot: Shot
  media: Media
  /** Seconds of the clip's frames. */
  times: number[]
  records: AnyRecord[]
  kind: FileKind
  content: Content
}

/** Bits per pixel and frame: enough for grain and soft light not to break into blocks. */
const bitsPerPixel = 0.22

/** How a clip's frames are written into a video file. */
export function videoOptions(media: Media, format: 'mp4' | 'webm', sound: VideoFileOptions['sound']): VideoFileOptions {
  const [width, height] = [media.width & ~1, media.height & ~1]
  const rate = media.variableRate ? null : fullRate(media.rate)
  const bitrate = Math.max(2e6, Math.round(width * height * (rate ?? media.rate) * bitsPerPixel))
  return { format, width, height, rate, bitrate, sound }
}

/**
 * Renders a shot at its full size into a file. Decoding, drawing and encoding run in workers side by side; only
 * messages pass through here. `onFrame` is told how many frames are done. Rejects with an AbortError when stopped;
 * nothing is left on disk then.
 */
export async function renderShot(
  { shot, media, times, records, kind, content }: RenderOrder,
  onFrame: (done: number) => void,
  signal: AbortSignal,
): Promise<{ file: File; discard: () => Promise<void> }> {
  const started = [startDecoder(), startEncoder(), ...Array.from({ length: rendererCount() }, startRenderer)]
  const others = new OtherFrames(
    (id) => records.find((one): one is Media => one.type === 'media' && one.id === id) ?? null,
  )
  const stopWorkers = () => {
    started.forEach((worker) => worker.stop())
    others.stop()
  }
  const [decoder, encoder, ...renderers] = started.map((worker) => worker.remote) as [
    DecodeWorker,
    EncodeWorker,
    ...RenderWorker[],
  ]

  const frames = shot.out - shot.in
  const at = (frame: number) => times[shot.in + frame] ?? endOf(times)
  const { rate } = videoOptions(media, 'mp4', null)
  const name = crypto.randomUUID()
  try {
    await decoder.open(clipOf(media, times), 48 * 1024 ** 2)
    await Promise.all(renderers.map((renderer) => renderer.start(records)))
    if (kind === 'png') await encoder.beginZip(name)
    else {
      const sound = media.audio
        ? { address: api.footageAddress(media.hash), from: at(0), to: at(frames - 1) + length(times, shot.out - 1) }
        : null
      await encoder.beginVideo(name, videoOptions(media, kind, sound))
    }
    const draw = async (frame: number) => {
      const renderer = renderers[frame % renderers.length]!
      const yuv = await decoder.get(shot.in + frame)
      const extra = await others.get(await renderer.needs(shot.id, frame, null), shot, decoder)
      return kind === 'png'
        ? renderer.drawForPng(shot.id, frame, yuv, content, extra)
        : renderer.drawForVideo(shot.id, frame, yuv, content, extra)
    }
    const write = async (frame: number, drawn: Awaited<ReturnType<typeof draw>>) => {
      if (drawn instanceof Uint8Array) {
        const file = `${shot.name.replace(/[^\p{L}\p{N}-]+/gu, '-')}-${String(frame).padStart(5, '0')}.png`
        await encoder.addPicture(file, Comlink.transfer(drawn, [drawn.buffer]))
      } else {
        const [time, duration] = rate ? [frame / rate, 1 / rate] : [at(frame) - at(0), length(times, shot.in + frame)]
        await encoder.addFrame(
          Comlink.transfer(drawn.data, [drawn.data.buffer]),
          drawn.width,
          drawn.height,
          time,
          duration,
        )
      }
    }
    // A few frames under way keep every worker busy; they are written in their order.
    const ahead = 2 * renderers.length + 2
    const underWay: ReturnType<typeof draw>[] = []
    for (let next = 0, done = 0; done < frames; done++) {
      for (; next < frames && underWay.length < ahead; next++) {
        const drawing = draw(next)
        drawing.catch(() => {})
        underWay.push(drawing)
      }
      const drawn = await underWay.shift()!
      signal.throwIfAborted()
      await write(done, drawn)
      onFrame(done + 1)
    }
    const file = await encoder.finish()
    signal.throwIfAborted()
    return {
      file,
      async discard() {
        await encoder.discard()
        stopWorkers()
      },
    }
  } catch (error) {
    await encoder.discard().catch(() => {})
    stopWorkers()
    throw error
  }
}

/** Seconds that a frame of the clip stays. */
function length(times: number[], frame: number): number {
  const next = times[frame + 1]
  if (next !== undefined) return next - times[frame]!
  return times.length > 1 ? times[frame]! - times[frame - 1]! : 1 / 24
}
const endOf = (times: number[]) => times.at(-1)! + length(times, times.length - 1)
