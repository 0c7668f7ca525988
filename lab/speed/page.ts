/** What the benchmark calls in the page: the export as it is, and the encoder alone on ready-made frames. */
import { fullRate } from '#core/formats/rate.ts'
import { copyI420, i420Layout } from '#core/pixels/buffers/yuv.ts'
import { type AnyRecord, type Media, type Shot, shotLength } from '#core/records/types.ts'
import { Mixer } from '#core/sound/mix.ts'
import { soundRate, stereo } from '#core/sound/signal/stereo.ts'
import { clipOf, timesOf } from '../../web/frames/clipOf.ts'
import { startDecoder, startEncoder } from '../../web/frames/start.ts'
import { fileForms } from '#core/outgoing/forms.ts'
import { renderFilm, videoOptions } from '../../web/output/renderFilm.ts'
import { api } from '../../web/project/api.ts'
import { enlarged } from './enlarged.ts'
import { lanes, renderGraph, seconds } from './soundLanes.ts'

/** Frames of a shot; `large` names the project whose one clip is that of the shot enlarged, and is taken instead of it. */
async function order(project: string, shotId: string, frames: [number, number], large = '') {
  let { records } = await api.openProject(project)
  const whole = records.find((one): one is Shot => one.type === 'shot' && one.id === shotId)!
  const find = () => records.find((one): one is Media => one.type === 'media' && one.id === whole.media)!
  if (large) {
    const clip = (await api.openProject(large)).records.find((one): one is Media => one.type === 'media')!
    records = enlarged(records, clip.width / find().width)
    records = records.map((one) => (one.id === whole.media ? { ...clip, id: one.id } : one))
  }
  const media = find()
  const shot = { ...whole, in: whole.in + frames[0], out: whole.in + frames[1] }
  return {
    shot,
    media: { ...media, audio: '' },
    times: await timesOf(media),
    records: records as AnyRecord[],
  }
}

const bench = {
  /** Milliseconds of a whole export of some frames to MP4. */
  async exported(project: string, shotId: string, frames: [number, number], large = ''): Promise<number> {
    const { first, rest } = await bench.exportedInParts(project, shotId, frames, large)
    return first + rest
  },
  /** The same, until its first frame is written and from then on. */
  async exportedInParts(project: string, shotId: string, frames: [number, number], large = '') {
    const { shot, media, times, records } = await order(project, shotId, frames, large)
    const stretches = [{ shot, media, from: 0, to: shotLength(shot) }]
    const start = performance.now()
    let first = 0
    const { place } = await renderFilm(
      { stretches, times: [times], records, kind: 'mp4', content: 'over', of: '', name: 'bench', place: 'bench' },
      (done) => done === 1 && (first = performance.now() - start),
      new AbortController().signal,
    )
    const whole = performance.now() - start
    const rendered = await (await navigator.storage.getDirectory()).getDirectoryHandle('rendered')
    await rendered.removeEntry(place)
    return { first, rest: whole - first }
  },

  /** Milliseconds of decoding alone: each frame once, one after the other, as they are asked for. */
  async decoded(project: string, shotId: string, frames: [number, number], large = ''): Promise<number> {
    const { shot, media, times } = await order(project, shotId, frames, large)
    const decoder = startDecoder()
    await decoder.remote.open(clipOf(media, times))
    const start = performance.now()
    await decoder.remote.readAhead(shot.in, shot.out - 1, shot.in)
    for (let frame = shot.in; frame < shot.out; frame++) await decoder.remote.get(frame)
    const ms = performance.now() - start
    decoder.stop()
    return ms
  },

  /** Milliseconds of the encoder and muxer alone on the same frames, ready as I420 before the clock starts. */
  async encoded(project: string, shotId: string, frames: [number, number], large = ''): Promise<number> {
    const { shot, media, times } = await order(project, shotId, frames, large)
    const decoder = startDecoder()
    await decoder.remote.open(clipOf(media, times))
    const ready: Uint8Array[] = []
    for (let frame = shot.in; frame < shot.out; frame++) {
      const data = new Uint8Array(i420Layout(media.width, media.height).bytes)
      copyI420(await decoder.remote.get(frame), media.width, media.height, data)
      ready.push(data)
    }
    decoder.stop()
    const encoder = startEncoder()
    const rate = fullRate(media.rate)
    const start = performance.now()
    await encoder.remote.beginVideo('bench', { ...videoOptions(media, fileForms.mp4.make), sound: null })
    for (const [i, data] of ready.entries())
      await encoder.remote.addFrame(data, media.width, media.height, i / rate, 1 / rate)
    await encoder.remote.finish()
    const ms = performance.now() - start
    await encoder.remote.discard()
    encoder.stop()
    return ms
  },

  /** Milliseconds of a minute of twelve lanes, by a seed: mixed by the core, and by the browser's own nodes. */
  mixed(seed: number): number {
    const mixer = new Mixer(lanes(seed))
    const out = stereo(4096)
    const start = performance.now()
    for (let at = 0; at < seconds * soundRate; at += 4096) mixer.next(out)
    return performance.now() - start
  },
  async graphMixed(): Promise<number> {
    const start = performance.now()
    await renderGraph()
    return performance.now() - start
  },
}
export type PageBench = typeof bench
Object.assign(window, { bench })
