import * as Comlink from 'comlink'
import { fullRate } from '#core/formats/rate.ts'
import type { Stretch } from '#core/records/film.ts'
import type { AnyRecord, Media } from '#core/records/types.ts'
import { Clips } from '../frames/clips.ts'
import type { VideoFileOptions } from '../frames/encode.worker.ts'
import { ReadingsTeller } from '../frames/readings.ts'
import type { Content, RenderWorker } from '../frames/render.worker.ts'
import { rendererCount, startEncoder, startRenderer } from '../frames/start.ts'
import { api } from '../project/api.ts'

export type FileKind = 'mp4' | 'webm' | 'png'

export interface RenderOrder {
  /** What is rendered, one after the other: a shot, or the film. The first one says how large and how fast. */
  stretches: Stretch[]
  /** Seconds of the frames of each stretch's clip. */
  times: number[][]
  records: AnyRecord[]
  kind: FileKind
  content: Content
  /** What the pictures of a sequence are called. */
  name: string
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

/** A frame to be rendered: which stretch it is of, its place in that one's shot, and when it is shown in seconds. */
interface FilmFrame {
  stretch: number
  frame: number
  time: number
  duration: number
}

/** Every frame of the file in order. A single stretch keeps its clip's own times; a film has one rate throughout. */
function framesOf(stretches: Stretch[], times: number[][], rate: number | null): FilmFrame[] {
  const [first] = stretches
  if (!rate && stretches.length === 1 && first) {
    const [own, from] = [times[0]!, first.shot.in + first.from]
    const at = (i: number) => own[from + i] ?? endOf(own)
    return Array.from({ length: first.to - first.from }, (_, i) => ({
      ...{ stretch: 0, frame: first.from + i, time: at(i) - at(0), duration: length(own, from + i) },
    }))
  }
  const steady = rate ?? first!.media.rate
  const frames = stretches.flatMap(({ media, from, to }, stretch) => {
    const step = media.rate / first!.media.rate
    const count = Math.max(1, Math.round((to - from) / step))
    return Array.from({ length: count }, (_, i) => ({ stretch, frame: Math.min(to - 1, from + Math.floor(i * step)) }))
  })
  return frames.map((one, i) => ({ ...one, time: i / steady, duration: 1 / steady }))
}

/** The sound of the clips, each from where to where in seconds, and where it lies in the file. */
function soundOf(stretches: Stretch[], times: number[][], frames: FilmFrame[]): VideoFileOptions['sound'] {
  return stretches.flatMap(({ media, shot, from, to }, i) => {
    if (!media.audio) return []
    const own = times[i]!
    const last = shot.in + to - 1
    const at = frames.find((one) => one.stretch === i)!.time
    return [
      { address: api.footageAddress(media.hash), from: own[shot.in + from]!, to: own[last]! + length(own, last), at },
    ]
  })
}

/**
 * Renders shots at full size into a file. Decoding, drawing and encoding run in workers side by side; only messages pass
 * through here. `onFrame` is told how many frames are done. The file lies at `place` in the browser's folder of rendered
 * files until it is taken away. `troubles`: sentences about clips that are missing in the
 * file. Rejects with an AbortError when stopped; nothing is left on disk then.
 */
export async function renderFilm(
  { stretches, times, records, kind, content, name: called }: RenderOrder,
  onFrame: (done: number, of: number) => void,
  signal: AbortSignal,
): Promise<{ file: File; place: string; troubles: string[] }> {
  const [first] = stretches
  const options = videoOptions(first!.media, kind === 'webm' ? 'webm' : 'mp4', [])
  const frames = framesOf(stretches, times, options.rate)
  const encoder = startEncoder()
  const renderers = Array.from({ length: rendererCount() }, startRenderer)
  const mediaOf = (id: string) => records.find((one): one is Media => one.type === 'media' && one.id === id) ?? null
  const workers = renderers.map(({ remote }) => remote)
  const clips = new Clips(workers, mediaOf)
  /** What is not in the file because it could not be had, by clip. */
  const troubles = new Map<string, string>()
  const teller = new ReadingsTeller()
  const stopWorkers = () => {
    for (const worker of [encoder, ...renderers]) worker.stop()
    clips.stop()
  }
  const name = crypto.randomUUID()
  try {
    await Promise.all(renderers.map((renderer) => renderer.remote.start(records)))
    if (kind === 'png') await encoder.remote.beginZip(name)
    else await encoder.remote.beginVideo(name, { ...options, sound: soundOf(stretches, times, frames) })
    const size = { width: first!.media.width, height: first!.media.height }
    const draw = ({ stretch, frame }: FilmFrame, worker: RenderWorker) => {
      const order = { shot: stretches[stretch]!.shot.id, frame, content, size }
      return kind === 'png' ? worker.drawForPng(order) : worker.drawForVideo(order)
    }
    const write = async (at: number, drawn: Awaited<ReturnType<typeof draw>>) => {
      const { time, duration } = frames[at]!
      for (const { media, sentence } of drawn.troubles) troubles.set(media, sentence)
      if ('png' in drawn) {
        const file = `${called.replace(/[^\p{L}\p{N}-]+/gu, '-')}-${String(at).padStart(5, '0')}.png`
        await encoder.remote.addPicture(file, Comlink.transfer(drawn.png, [drawn.png.buffer]))
      } else {
        const { data, width, height } = drawn
        await encoder.remote.addFrame(Comlink.transfer(data, [data.buffer]), width, height, time, duration)
      }
    }
    // A few frames under way keep every worker busy; they are written in their order.
    const ahead = 2 * renderers.length + 2
    const underWay: ReturnType<typeof draw>[] = []
    /** The one that is under way. */
    let stretch = -1
    for (let next = 0, done = 0; done < frames.length; done++) {
      for (; next < frames.length && underWay.length < ahead; next++) {
        const frame = frames[next]!
        if (stretch !== frame.stretch) {
          // The clip before is let go once all its frames are drawn.
          if (underWay.length) break
          stretch = frame.stretch
          const { shot, media } = stretches[stretch]!
          const own = await clips.openOwn(media, times[stretch]!, 48 * 1024 ** 2)
          const decoderOf = (one: Media) => (one.id === media.id ? Promise.resolve(own) : clips.decoderOf(one))
          await teller.tell(await workers[0]!.readingsAsked(shot.id), workers, mediaOf, decoderOf)
          signal.throwIfAborted()
        }
        const drawing = draw(frame, workers[next % workers.length]!)
        drawing.catch(() => {})
        underWay.push(drawing)
      }
      const drawn = await underWay.shift()!
      signal.throwIfAborted()
      await write(done, drawn)
      onFrame(done + 1, frames.length)
    }
    const file = await encoder.remote.finish()
    signal.throwIfAborted()
    stopWorkers()
    return {
      ...{ file, place: name },
      troubles: [...troubles].map(([id, sentence]) => `${mediaOf(id)?.name ?? 'A clip'} is not in it: ${sentence}`),
    }
  } catch (error) {
    await encoder.remote.discard().catch(() => {})
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
