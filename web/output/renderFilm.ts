import * as Comlink from 'comlink'
import { fullRate } from '#core/formats/rate.ts'
import type { WavForm } from '#core/formats/wav.ts'
import { cropWords } from '#core/outgoing/crop.ts'
import { bitsPerPixel, type FilmFrame, frameLength, framesOfFilm, reduced } from '#core/outgoing/filmFrames.ts'
import { type FileKind, fileForms, type Way, wayOf } from '#core/outgoing/forms.ts'
import { isNobody, whoseOf } from '#core/outgoing/whose.ts'
import { limits } from '#core/records/limits.ts'
import { Refusal } from '#core/refusal.ts'
import { joinedShot, type Stretch } from '#core/records/film.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Media } from '#core/records/types.ts'
import { type Content, isClear, isOfSomebody } from '#core/render/contents.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { say } from '#core/say.ts'
import { timesOf as readTimes } from '../frames/clipOf.ts'
import { Clips } from '../frames/clips.ts'
import type { FileSoundOrder, VideoFileOptions } from '../frames/encode.worker.ts'
import { ReadingsTeller } from '../frames/readings.ts'
import { dropRendered } from '../frames/renderedFiles.ts'
import type { RenderWorker } from '../frames/render.worker.ts'
import type { MixOrder } from '../frames/soundMix.ts'
import { filmOrder, shotOrder } from '../frames/soundOrder.ts'
import { borrowFilmWorkers, giveBack, stopFilmWorkers } from '../frames/filmWorkers.ts'
import { filmHolds, filmMayHold } from '../frames/memory.ts'
import { startEncoder, startSound } from '../frames/start.ts'
import { api } from '../project/api.ts'

export interface RenderOrder {
  /** What is rendered, one after the other: a shot, or the film. The first one says how large and how fast. */
  stretches: Stretch[]
  /** Seconds of the frames of each stretch's clip. */
  times: number[][]
  records: AnyRecord[]
  kind: FileKind
  content: Content
  /** Name of the member whose matte it is, or who is cut out, in whatever shot; '' for everybody together. */
  of: string
  /** How the samples of a sound file are coded. */
  samples?: WavForm
  /** Whether what is clear in pictures is multiplied by its alpha. */
  premultiplied?: boolean
  /** By how much the picture is made smaller. */
  reduce?: 1 | 2 | 4
  /** Frames of its only shot, `to` exclusive, to what is seen on which a matte or cut-out is cropped. */
  crop?: { from: number; to: number } | null
  /** What the pictures of a sequence are called. */
  name: string
  /** Name of the file in the browser's folder of rendered files. */
  place: string
}

/** Milliseconds that were waited for each. */
type Waited = Record<'drawing' | 'writing', number>
/** What the other stages of making a film wait for: `memory` where fewer renderers draw than there are, for want of it. */
export type Slowest = 'drawing' | 'writing' | 'memory'
/** Hears how many frames are done of how many, and what is waited for most, where one is much slower than the other. */
export type OnFrame = (done: number, of: number, slowest?: Slowest | null) => void

/** A finished file, its place in the browser's folder of rendered files, and sentences about clips that are missing in it. */
export interface Rendered {
  file: File
  place: string
  troubles: string[]
  /** What else is to be said of what is in it. */
  about?: string
}

/** How a clip's frames are written into a video file. */
export function videoOptions(
  media: Media,
  { container, codec, alpha = false }: Pick<VideoWay, 'container' | 'codec' | 'alpha'>,
  reduce: 1 | 2 | 4 = 1,
): Omit<VideoFileOptions, 'sound'> {
  const size = reduced(media, reduce)
  const [width, height] = [size.width & ~1, size.height & ~1]
  const rate = media.variableRate ? null : fullRate(media.rate)
  const bitrate = Math.max(2e6, Math.round(width * height * (rate ?? media.rate) * bitsPerPixel[codec]))
  return { format: container, codec, alpha, width, height, rate, bitrate }
}
const usualVideo = fileForms.mp4.make
type VideoWay = Extract<Way, { way: 'video' }>

/** Seconds of the frames of every clip of the film, and of the one that its last shot is joined to. */
async function allTimes(
  stretches: readonly Stretch[],
  times: number[][],
  list: readonly AnyRecord[],
): Promise<(media: Media) => number[]> {
  const known = new Map(stretches.map(({ media }, i) => [media.id, times[i]!]))
  const records = new Records(list)
  const next = joinedShot(records, stretches.at(-1)!.shot)
  const media = next && records.get('media', next.shot.media)
  if (media && !known.has(media.id)) known.set(media.id, await readTimes(media))
  return ({ id }) => known.get(id) ?? []
}

/** What is heard of the film: null where there is nothing. A shot of which only its clip's sound is heard, untouched, keeps that. */
function soundOf(
  {
    stretches,
    records: list,
    timesOf,
  }: Pick<RenderOrder, 'stretches' | 'records'> & { timesOf: (media: Media) => number[] },
  starts: number[],
  seconds: number,
): FileSoundOrder | null {
  const records = new Records(list)
  const heard = filmOrder(records, stretches, starts, timesOf)
  const sounds = heard.shots.map(({ shot: id }) => {
    const shot = records.get('shot', id)
    return shot ? soundsOf(records, shot).filter((sound) => sound.on) : []
  })
  if (sounds.every((some) => some.length === 0)) return null
  const mix: MixOrder = { ...heard, records: soundRecords(list), seconds }
  const [{ shot, media, from, to }, [only]] = [stretches[0]!, sounds[0]!]
  const untouched =
    sounds.length === 1 && sounds[0]!.length === 1 && only!.kind === 'own' && !records.get('sound', only!.id)
  if (!untouched || shot.level || shot.timing) return { copy: null, mix }
  const own = timesOf(media)
  const last = shot.in + to - 1
  const copy = {
    address: api.footageAddress(media.hash),
    from: own[shot.in + from]!,
    to: own[last]! + frameLength(own, last),
  }
  return { copy, mix }
}

/** Records without the pixels of mattes: those are seen, not heard. */
const soundRecords = (list: readonly AnyRecord[]): AnyRecord[] =>
  list.filter((one) => one.type !== 'stroke' && one.type !== 'look')

/**
 * Renders shots at full size into a file. Decoding, drawing and encoding run in workers side by side; only messages pass
 * through here. `onFrame` is told how many frames are done. The file lies at `place` in the browser's folder of rendered
 * files until it is taken away. `troubles`: sentences about clips that are missing in the
 * file. Rejects with an AbortError when stopped; nothing is left on disk then.
 */
export async function renderFilm(order: RenderOrder, onFrame: OnFrame, signal: AbortSignal): Promise<Rendered> {
  const { stretches, times, records, kind, content, of, name: called, place: name, reduce = 1 } = order
  const [first] = stretches
  const make = wayOf(kind)
  const options = videoOptions(first!.media, make.way === 'video' ? make : usualVideo, reduce)
  const size = reduced(first!.media, reduce)
  const frames = framesOfFilm(stretches, times, options.rate)
  const film = borrowFilmWorkers()
  const { encoder, renderers } = film
  const mediaOf = (id: string) => records.find((one): one is Media => one.type === 'media' && one.id === id) ?? null
  const workers = renderers.map(({ remote }) => remote)
  const clips = new Clips(workers, mediaOf)
  /** What is not in the file because it could not be had, by clip. */
  const troubles = new Map<string, string>()
  /** What else is to be said of it. */
  const notes: string[] = []
  const teller = new ReadingsTeller()
  /** Started where a drive hangs on how loud a sound is. */
  let hearer: ReturnType<typeof startSound> | null = null
  const mixOf = async (shot: string, of: string) => {
    if (!hearer) {
      hearer = startSound()
      await hearer.remote.start(soundRecords(records), { shots: [], addresses: {} })
    }
    const order = await shotOrder(new Records(records), shot, readTimes)
    return order && hearer.remote.levels(order, of)
  }
  const stopOthers = () => {
    hearer?.stop()
    clips.stop()
  }
  const openClip = (stretch: number) => clips.openOwn(stretches[stretch]!.media, times[stretch]!, 'passing')
  /** Begins the file; nothing of it waits for the renderers, but for the size of what is cropped. */
  const begin = async ({ width, height }: { width: number; height: number }) => {
    if (make.way === 'pictures') return make.one ? encoder.remote.beginSingle(name) : encoder.remote.beginZip(name)
    if (make.way === 'animation') return encoder.remote.beginAnimation(name, width, height, isClear(content))
    const starts = stretches.map((_, i) => frames.find((one) => one.stretch === i)!.time)
    const seconds = frames.at(-1)!.time + frames.at(-1)!.duration
    const timesOf = await allTimes(stretches, times, records)
    return encoder.remote.beginVideo(name, {
      ...options,
      ...{ width: width & ~1, height: height & ~1 },
      // What other programs lay over something has nothing to say.
      sound: content !== 'over' ? null : soundOf({ stretches, records, timesOf }, starts, seconds),
    })
  }
  const asksCrop = order.crop && (content === 'matte' || content === 'cutout') ? order.crop : null
  let begun = asksCrop ? null : begin(size)
  // Why it failed is told where it is waited for.
  begun?.catch(() => {})
  openClip(0).catch(() => {})
  try {
    await Promise.all(renderers.map((renderer) => renderer.remote.start(records)))
    const known = new Records(records)
    const cast = stretches.map(({ shot }) => whoseOf(known, shot.id, of))
    if (isOfSomebody(content) && cast.every(isNobody))
      throw new Refusal(
        of
          ? say`There is no ${of} in it any more. Choose somebody else.`
          : say`Nobody is traced in it: trace somebody first.`,
      )
    const crop = asksCrop && (await workers[0]!.cropOf(first!.shot.id, cast[0]!, asksCrop, { reduce, size }))
    await (begun ??= begin(crop ?? size))
    if (content === 'matte' || content === 'cutout') {
      const there = await Promise.all(
        stretches.map(({ shot, from, to }, i) => {
          const whose = cast[i]!
          const ids = 'channels' in whose ? whose.channels.flat() : whose
          return 'of' in ids || workers[0]!.isThere(shot.id, ids, from, to)
        }),
      )
      if (!there.some(Boolean))
        notes.push(say`${of || say`Everybody`} is away on all of these frames: the file shows nothing.`)
    }
    const draw = ({ stretch, frame }: FilmFrame, worker: RenderWorker) => {
      const drawn = {
        shot: stretches[stretch]!.shot.id,
        frame,
        content,
        of: cast[stretch]!,
        size,
        reduce,
        ...(crop ? { crop } : {}),
      }
      const { premultiplied = false } = order
      const coding = make.way === 'pictures' ? make.coding : make.way === 'animation' ? 'webp' : null
      return coding
        ? worker.drawForPicture({ ...drawn, coding, premultiplied })
        : worker.drawForVideo(drawn, options.alpha)
    }
    const write = async (at: number, drawn: Awaited<ReturnType<typeof draw>>) => {
      const { time, duration } = frames[at]!
      for (const { media, sentence } of drawn.troubles) troubles.set(media, sentence)
      if ('file' in drawn && make.way === 'animation') {
        // Rounded where it ends, so that nothing adds up.
        const ms = (seconds: number) => Math.round(1000 * seconds)
        await encoder.remote.addMoving(
          Comlink.transfer(drawn.file, [drawn.file.buffer]),
          ms(time + duration) - ms(time),
        )
      } else if ('file' in drawn) {
        const ending = make.way === 'pictures' && make.coding === 'exr' ? 'exr' : 'png'
        const file = `${called.replace(/[^\p{L}\p{N}-]+/gu, '-')}-${String(at).padStart(5, '0')}.${ending}`
        await encoder.remote.addPart(file, Comlink.transfer(drawn.file, [drawn.file.buffer]))
      } else {
        const { data, width, height } = drawn
        await encoder.remote.addFrame(Comlink.transfer(data, [data.buffer]), width, height, time, duration)
      }
    }
    // Where frames are large, one renderer shows first how much memory it takes; as many draw as have room, the others have none.
    const isLarge = size.width * size.height > limits.usualFrame
    let drawing = isLarge ? 1 : workers.length
    // Until it is known how much.
    if (isLarge) filmHolds(filmMayHold())
    const roomFor = async () => {
      const held = Math.max(1, ...(await Promise.all(workers.map((worker) => worker.held()))))
      const fitting = Math.max(1, Math.min(workers.length, Math.floor(filmMayHold() / held)))
      await Promise.all(workers.slice(fitting).map((worker) => worker.letGo()))
      filmHolds(fitting * held)
      return fitting
    }
    const waited: Waited = { drawing: 0, writing: 0 }
    const underWay: ReturnType<typeof draw>[] = []
    /** The one that is under way. */
    let stretch = -1
    for (let next = 0, done = 0; done < frames.length; done++) {
      for (; next < frames.length && underWay.length < 2 * drawing + 2; next++) {
        const frame = frames[next]!
        if (stretch !== frame.stretch) {
          // The clip before is let go once all its frames are drawn.
          if (underWay.length) break
          stretch = frame.stretch
          const { shot, media } = stretches[stretch]!
          const own = await openClip(stretch)
          const decoderOf = (one: Media) => (one.id === media.id ? Promise.resolve(own) : clips.decoderOf(one))
          await teller.tell(await workers[0]!.readingsAsked(shot.id), workers, {
            mediaOf,
            decoderOf,
            mixOf,
          })
          signal.throwIfAborted()
        }
        const picture = draw(frame, workers[next % drawing]!)
        picture.catch(() => {})
        underWay.push(picture)
      }
      const asked = performance.now()
      const drawn = await underWay.shift()!
      signal.throwIfAborted()
      const came = performance.now()
      await write(done, drawn)
      // The first frame pays for the start of everything.
      if (done % askedEvery === 0) drawing = await roomFor()
      if (done) {
        waited.drawing += came - asked
        waited.writing += performance.now() - came
      }
      const slowest = slowestOf(waited)
      const alone = slowest === 'drawing' && drawing < workers.length
      onFrame(done + 1, frames.length, alone ? 'memory' : slowest)
    }
    for (const [media, sentence] of await encoder.remote.soundTroubles()) troubles.set(media, sentence)
    const file = await encoder.remote.finish()
    signal.throwIfAborted()
    stopOthers()
    // They wait for the next film, and the page has its memory again.
    if (isLarge) await Promise.all(workers.map((worker) => worker.letGo()))
    giveBack(film)
    return {
      ...{ file, place: name },
      troubles: [
        ...notes,
        ...[...troubles].map(([id, sentence]) => say`${mediaOf(id)?.name ?? say`A clip`} is not in it: ${sentence}`),
      ],
      ...(crop ? { about: cropWords(crop) } : {}),
    }
  } catch (error) {
    await begun?.catch(() => {})
    await encoder.remote.discard().catch(() => {})
    stopOthers()
    // What they have under way is nobody's any more.
    stopFilmWorkers(film)
    throw error
  } finally {
    filmHolds(0)
  }
}

/** Frames after which it is asked again how much memory renderers take: more cards may work by then. */
const askedEvery = 24

/** What was waited for twice as long as for the other, in milliseconds. */
function slowestOf({ drawing, writing }: Waited): keyof Waited | null {
  if (drawing > 2 * writing) return 'drawing'
  return writing > 2 * drawing ? 'writing' : null
}

/** What a worker makes at one go, or an AbortError as soon as it is stopped: the worker is to be ended then. */
export async function orStopped<T>(work: Promise<T>, signal: AbortSignal): Promise<T> {
  let stopped = () => {}
  const stop = new Promise<never>((_, refuse) => {
    stopped = () => refuse(new DOMException('cancelled', 'AbortError'))
    signal.addEventListener('abort', stopped)
  })
  try {
    return await Promise.race([work, stop])
  } finally {
    signal.removeEventListener('abort', stopped)
  }
}

/** Writes the sound alone: all of it together, or every lane for itself. Rejects with an AbortError when stopped. */
export async function renderSound(
  { stretches, times, records, kind, samples = 's24', place: name }: RenderOrder,
  onFrame: (done: number, of: number) => void,
  signal: AbortSignal,
): Promise<Rendered> {
  const frames = framesOfFilm(stretches, times, videoOptions(stretches[0]!.media, usualVideo).rate)
  const starts = stretches.map((_, i) => frames.find((one) => one.stretch === i)!.time)
  const seconds = frames.at(-1)!.time + frames.at(-1)!.duration
  const timesOf = await allTimes(stretches, times, records)
  const sound = soundOf({ stretches, records, timesOf }, starts, seconds)
  if (!sound) throw new Refusal(say`Nothing is heard in it. Add a sound at the step Sound, or choose another file.`)
  const encoder = startEncoder()
  try {
    const told = Comlink.proxy((share: number) => onFrame(Math.round(share * frames.length), frames.length))
    const writing = encoder.remote.writeSound(name, sound.mix, samples, kind === 'lanes', told)
    const { file, troubles } = await orStopped(writing, signal)
    onFrame(frames.length, frames.length)
    const called = new Map(records.flatMap((one) => (one.type === 'media' ? [[one.id, one.name] as const] : [])))
    return {
      ...{ file, place: name },
      troubles: troubles.map(([id, sentence]) => say`${called.get(id) ?? say`A file`} is not in it: ${sentence}`),
    }
  } catch (error) {
    encoder.stop()
    await dropRendered(name)
    throw error
  } finally {
    encoder.stop()
  }
}
