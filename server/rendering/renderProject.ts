import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { createWriteStream } from 'node:fs'
import { access, constants, mkdtemp, open, rename, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { Readable, type Writable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import yazl from 'yazl'
import { fileName } from '#core/formats/fileName.ts'
import { levelsOf } from '#core/formats/pictureFile.ts'
import { fullRate } from '#core/formats/rate.ts'
import { wavHead, wavSamples } from '#core/formats/wav.ts'
import { writeShapes } from '#core/incoming/shapesFile.ts'
import { coarseness, KeptReadings, mixName, readingsAsked } from '#core/motion/readings.ts'
import { editDecisionList, editOf, openTimeline } from '#core/outgoing/editList.ts'
import { bitsPerPixel, framesOfFilm, reduced } from '#core/outgoing/filmFrames.ts'
import { fileForms, type FileKind, type Way, wayOf } from '#core/outgoing/forms.ts'
import { lottieFile } from '#core/outgoing/lottieFile.ts'
import { stretchesOf } from '#core/outgoing/orders.ts'
import { animatedSvg } from '#core/outgoing/svgFile.ts'
import { tracksCsv, tracksJson } from '#core/outgoing/tracksFile.ts'
import { isNobody, whoseOf } from '#core/outgoing/whose.ts'
import { wholeMix } from '#core/parameters/drives.ts'
import { lumaOf } from '#core/pixels/buffers/luma.ts'
import { Scratch, withRoom } from '#core/pixels/buffers/scratch.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import type { Stretch } from '#core/records/film.ts'
import { Records } from '#core/records/records.ts'
import { type Media, type Shot, shotLength } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import type { Content } from '#core/render/contents.ts'
import { picturesNeeded } from '#core/render/frame.ts'
import { type FileFrame, type OtherFrame, Painter, placeOf } from '#core/render/painter.ts'
import { type Scene, sceneOf } from '#core/render/scene.ts'
import { FrameLevels } from '#core/sound/level.ts'
import { Mixer } from '#core/sound/mix.ts'
import { soundRate, stereo } from '#core/sound/signal/stereo.ts'
import { clockOf, heardShots, lanesOf } from '#core/soundtrack/lanes.ts'
import { bounded, findConverter } from '../conversion/programs.ts'
import { openProjectFile } from '../storage/projectFile.ts'
import { ClipFiles } from './clips.ts'
import { DecodedSound } from './decodedSound.ts'

/** Forms that only ffmpeg writes, beside those of the interface. */
export const moreForms = {
  prores: { profile: 3, pixels: 'yuv422p10le' },
  prores4444: { profile: 4, pixels: 'yuva444p10le' },
}
export type NodeKind = FileKind | keyof typeof moreForms
/** Kinds that are rendered without a window. */
export const nodeKinds = [...Object.keys(fileForms), ...Object.keys(moreForms)].filter(
  (kind) => !['jpeg', 'webp', 'svgs', 'lanes'].includes(kind),
) as NodeKind[]

/** What is rendered without a window. */
export interface NodeOrder {
  project: string
  /** Name of the shot; '' for the whole film. */
  shot: string
  content: Content
  /** Name of the member whose it is; '' for everybody. */
  of: string
  kind: NodeKind
  /** Frames of what is rendered, both included: a piece of it, to be joined with others. Null for all. */
  frames: { from: number; to: number } | null
  reduce: 1 | 2 | 4
  premultiplied: boolean
  /** Where it goes; '' for its usual name in the folder that one is in. */
  out: string
}

export interface NodeRendered {
  out: string
  frames: number
  /** Sentences about what is not in it. */
  troubles: string[]
}

/** Renders a project file. `told`: how many frames are done. Throws a Refusal that says what is wrong; then nothing is left behind. */
export async function renderProject(order: NodeOrder, told: (done: number, of: number) => void): Promise<NodeRendered> {
  const converter = await findConverter()
  if (!converter) throw new Refusal('There is no ffmpeg on this machine. Install it, or say where it is with FFMPEG.')
  await access(order.project, constants.R_OK).catch(() => {
    throw new Refusal(`There is no file ${order.project}, or it can not be read.`)
  })
  const folder = await mkdtemp(join(tmpdir(), 'wisp-render-'))
  try {
    const project = await openProjectFile(order.project)
    const clips = new ClipFiles(project, folder, converter)
    try {
      return await new ProjectRender(new Records(project.records), clips, folder, order).run(told)
    } finally {
      clips.close()
    }
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** Samples that are mixed at once. */
const batch = 4096

class ProjectRender {
  private readonly records: Records
  private readonly clips: ClipFiles
  private readonly folder: string
  private readonly order: NodeOrder
  private readonly painter = new Painter(new Scratch(startKernels()))
  private readonly sounds = new Map<string, DecodedSound>()
  private readonly readings = new KeptReadings()
  private readonly scenes = new Map<string, Scene | null>()
  private readonly troubles = new Map<string, string>()
  private readonly times = new Map<string, number[]>()

  constructor(records: Records, clips: ClipFiles, folder: string, order: NodeOrder) {
    this.records = records
    this.clips = clips
    this.folder = folder
    this.order = order
  }

  async run(told: (done: number, of: number) => void): Promise<NodeRendered> {
    const { order, records } = this
    const name = records.all('project')[0]?.name ?? 'Film'
    const shot = order.shot ? this.shotCalled(order.shot) : null
    const stretches = stretchesOf(records, shot?.id ?? '', null)
    if (!stretches.length) throw new Refusal('There is no shot in this project.')
    const ending = order.kind in moreForms ? 'mov' : fileForms[order.kind as FileKind].ending
    const suffix = order.content === 'over' ? '' : order.content === 'cutout' ? ' cut out' : ` ${order.content}`
    const piece = order.frames ? ` frames ${order.frames.from} to ${order.frames.to}` : ''
    const out = order.out || `${fileName(`${shot?.name ?? name}${suffix}${piece}`, 'Film')}.${ending}`
    await access(dirname(out), constants.W_OK).catch(() => {
      throw new Refusal(`The folder of ${out} is not there, or can not be written to.`)
    })
    // It has its name when it is whole.
    const part = join(dirname(out), `.${process.pid}.${ending}`)
    try {
      const frames = await this.write(part, stretches, name, told)
      await rename(part, out)
      return { out, frames, troubles: [...this.troubles.values()] }
    } catch (error) {
      await rm(part, { force: true })
      throw error
    } finally {
      for (const sound of this.sounds.values()) sound.close()
    }
  }

  private shotCalled(name: string): Shot {
    const shots = this.records.all('shot')
    const found = shots.find((one) => one.name === name)
    if (found) return found
    throw new Refusal(`No shot is called "${name}". There are: ${shots.map((one) => one.name).join(', ')}.`)
  }

  /** The members of a stretch that are asked for. */
  private castOf({ shot }: Stretch): { id: string; name: string }[] {
    const all = this.records.childrenOf('member', shot.id)
    return all.filter((one) => !this.order.of || one.name === this.order.of)
  }

  private async write(
    part: string,
    stretches: Stretch[],
    title: string,
    told: (done: number, of: number) => void,
  ): Promise<number> {
    const { kind } = this.order
    const make: Way | 'prores' = kind in moreForms ? 'prores' : wayOf(kind as FileKind)
    if (make !== 'prores' && (make.way === 'shapes' || make.way === 'edit')) {
      await writeFile(part, await this.text(make.writes, stretches, title))
      return 1
    }
    for (const { media } of stretches) this.times.set(media.id, await this.clips.timesOf(media))
    const [first] = stretches
    if (make !== 'prores' && make.way === 'sound') {
      const samples = await this.wav(part, stretches)
      if (!samples) throw new Refusal('Nothing is heard in it. Add a sound at the step Sound, or choose another file.')
      return Math.round((samples / soundRate) * first!.media.rate)
    }
    const rate = first!.media.variableRate ? first!.media.rate : fullRate(first!.media.rate)
    if (first!.media.variableRate)
      this.troubles.set(
        'rate',
        `${first!.media.name} has no constant rate: its frames follow each other at ${rate} a second.`,
      )
    const times = stretches.map(({ media }) => this.times.get(media.id)!)
    const all = framesOfFilm(stretches, times, rate)
    const { from, to } = this.order.frames ?? { from: 0, to: all.length - 1 }
    if (from > to || to >= all.length)
      throw new Refusal(`There are frames 0 to ${all.length - 1}; ${from} to ${to} are not all among them.`)
    const one = make !== 'prores' && make.way === 'pictures' && make.one
    const frames = all.slice(from, one ? from + 1 : to + 1)
    const size = reduced(first!.media, this.order.reduce)
    const { content, reduce, premultiplied } = this.order
    const needsCast = content === 'matte' || content === 'cutout'
    const whose = stretches.map(({ shot }) => whoseOf(this.records, shot.id, this.order.of))
    if (needsCast && whose.every(isNobody))
      throw new Refusal(this.order.of ? `There is no ${this.order.of} in it.` : 'Nobody is traced in it.')
    const drawn = async (i: number) => {
      const { stretch, frame } = frames[i]!
      const { shot, media } = stretches[stretch]!
      const scene = await this.sceneOf(shot)
      const yuv = await (await this.clips.readerOf(media)).get(shot.in + frame)
      const others = await this.others(scene, shot, frame)
      const asked: FileFrame = { frame, content, of: whose[stretch]!, size, reduce }
      return { scene, asked, yuv, others }
    }
    if (make !== 'prores' && make.way === 'pictures') {
      const { coding } = make
      if (coding === 'jpeg') throw new Refusal('A JPEG is made in the interface only. Take a still.')
      const picture = async (i: number) => {
        const { scene, asked, yuv, others } = await drawn(i)
        return withRoom(() => this.painter.pictureFile(scene, { ...asked, coding, premultiplied }, yuv, others))
      }
      if (one) {
        await writeFile(part, await picture(0))
        return 1
      }
      const ending = coding === 'exr' ? 'exr' : 'png'
      const zip = new yazl.ZipFile()
      for (let i = 0; i < frames.length; i++) {
        // A piece goes on with its own numbers. Each is made when the one before is written, packed already, and let go then.
        zip.addReadStreamLazy(`${String(from + i).padStart(5, '0')}.${ending}`, { compress: false }, (give) => {
          picture(i).then(
            (bytes) => {
              told(i + 1, frames.length)
              give(null, Readable.from([Buffer.from(bytes)], { objectMode: false }))
            },
            (error: unknown) => give(error, Readable.from([])),
          )
        })
      }
      const failed = new Promise<never>((_, fail) => (zip as unknown as NodeJS.EventEmitter).on('error', fail))
      zip.end()
      await Promise.race([pipeline(zip.outputStream, createWriteStream(part)), failed])
      return frames.length
    }
    if (make !== 'prores' && make.way === 'animation')
      throw new Refusal('A WebP animation is made in the interface only. Take mp4 or png.')
    const encoder = await this.encoder(part, make, size, rate, stretches)
    try {
      for (let i = 0; i < frames.length; i++) {
        const { scene, asked, yuv, others } = await drawn(i)
        const bytes = withRoom(() => {
          if (make !== 'prores') return this.painter.forVideo(scene, asked, make.alpha === true, yuv, others)
          const { light } = this.painter.forPicture(scene, asked, true, yuv, others)
          // Without a plane of alpha what is clear lies on black. A matte is no colour.
          const form = { channels: content === 'matte' ? 'mattes' : 'rgba', premultiplied: kind === 'prores' } as const
          const levels = levelsOf(light!, 4, form)
          return new Uint8Array(levels.buffer, levels.byteOffset, levels.byteLength)
        })
        await encoder.add(bytes)
        told(i + 1, frames.length)
      }
      await encoder.end()
    } catch (error) {
      encoder.stop()
      throw error
    }
    return frames.length
  }

  /** An encoder that takes frames as raw bytes. */
  private async encoder(
    part: string,
    make: Extract<Way, { way: 'video' }> | 'prores',
    size: { width: number; height: number },
    rate: number,
    stretches: Stretch[],
  ) {
    const deep = make === 'prores'
    const [width, height] = [size.width & ~1, size.height & ~1]
    if (deep && (size.width % 2 || size.height % 2)) throw new Refusal('ProRes needs an even width and height.')
    const alpha = make !== 'prores' && make.alpha === true
    const pixels = deep ? 'rgba64le' : alpha ? 'yuva420p' : 'yuv420p'
    // A piece is silent: sound that is cut and joined has seams. It is written whole, as wav.
    const sound = this.order.content === 'over' && !this.order.frames ? join(this.folder, 'sound.wav') : ''
    const heard = sound ? await this.wav(sound, stretches) : 0
    const colour = ['-color_range', 'tv', '-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709']
    const [program, args] = bounded(this.clips.converter, 'ffmpeg', [
      ...['-v', 'error', '-nostdin', '-y', '-f', 'rawvideo', '-pix_fmt', pixels, ...(deep ? [] : colour)],
      ...['-s', `${width}x${height}`, '-r', String(rate), '-i', 'pipe:0', ...(heard ? ['-i', sound] : [])],
      ...(make === 'prores'
        ? proResArguments(this.order.kind as keyof typeof moreForms)
        : codecArguments(make, width * height * rate)),
      ...colour,
      ...(heard ? ['-c:a', deep ? 'pcm_s24le' : make.container === 'mp4' ? 'aac' : 'libopus', '-b:a', '192k'] : []),
      part,
    ])
    const child = spawn(program, args, { stdio: ['pipe', 'ignore', 'pipe'] })
    let words = ''
    child.stderr.setEncoding('utf8').on('data', (text: string) => (words = (words + text).slice(-600)))
    const closed = once(child, 'close') as Promise<[number | null]>
    child.stdin.on('error', () => {})
    const failed = () => new Refusal(`ffmpeg could not write the file: ${words.trim() || 'it ended without a word.'}`)
    return {
      async add(bytes: Uint8Array) {
        if (child.exitCode !== null) throw failed()
        // The bytes are the painter's own.
        if (!child.stdin.write(Buffer.from(bytes))) await Promise.race([once(child.stdin as Writable, 'drain'), closed])
      },
      async end() {
        child.stdin.end()
        const [code] = await closed
        if (code !== 0) throw failed()
      },
      stop: () => void child.kill('SIGKILL'),
    }
  }

  private async sceneOf(shot: Shot): Promise<Scene | null> {
    const known = this.scenes.get(shot.id)
    if (known !== undefined) return known
    this.clips.closeOthers(new Set([shot.media]))
    await this.read(shot)
    const scene = sceneOf(this.records, shot.id, this.readings)
    this.scenes.set(shot.id, scene)
    return scene
  }

  /** Reads off pictures and sounds what drives of a shot ask for. */
  private async read(shot: Shot): Promise<void> {
    const asked = readingsAsked(this.records, shot.id)
    for (const id of asked.heard) {
      const media = this.records.get('media', id)
      if (media) this.readings.hear(id, await this.levelsOf(media))
    }
    for (const { shot: of, of: sound } of asked.mixed) {
      const levels = await this.mixLevels(of, sound)
      if (levels) this.readings.hear(mixName(of, sound), levels)
    }
    for (const { media: id, from, to } of asked.seen) {
      const media = this.records.get('media', id)
      if (!media) continue
      const reader = await this.clips.readerOf(media)
      const reduce = coarseness(media, to - from)
      for (let frame = from; frame < to; frame++) this.readings.see(id, frame, lumaOf(await reader.get(frame), reduce))
    }
  }

  private async others(scene: Scene | null, shot: Shot, frame: number): Promise<OtherFrame[]> {
    const found = await Promise.all(
      (scene ? picturesNeeded(scene, frame) : []).map(async (need): Promise<OtherFrame | null> => {
        const place = placeOf(need, shot, this.records)
        const media = place && this.records.get('media', place.media)
        if (!place || !media) return null
        try {
          return { ...need, yuv: await (await this.clips.readerOf(media)).get(place.frame) }
        } catch (error) {
          if (place.own || !(error instanceof Refusal)) throw error
          this.troubles.set(media.id, `${media.name} is not in it: ${error.message}`)
          return null
        }
      }),
    )
    return found.filter((one) => one !== null)
  }

  private soundOf(media: Media): DecodedSound {
    let sound = this.sounds.get(media.hash)
    if (!sound) this.sounds.set(media.hash, (sound = new DecodedSound()))
    return sound
  }

  /** The lanes of some stretches, once their files are decoded. `alone`: the only sound that is heard. */
  private async lanes(stretches: readonly Stretch[], starts: readonly number[], alone?: ReadonlySet<string>) {
    for (const media of this.records.all('media'))
      if (!this.times.has(media.id) && stretches.length)
        this.times.set(media.id, await this.clips.timesOf(media).catch(() => []))
    const heard = heardShots(this.records, stretches, starts, ({ id }) => this.times.get(id) ?? [])
    const asked = new Set<Media>()
    const lanes = () =>
      heard.flatMap((one) =>
        lanesOf(this.records, one, {
          recordingOf: (media) => (asked.add(media), this.soundOf(media)),
          ...(alone ? { alone } : {}),
        }),
      )
    // First to learn which files they are read from, then as long as these are.
    lanes()
    for (const media of asked) await this.decode(media)
    return lanes()
  }

  private async decode(media: Media): Promise<void> {
    const sound = this.soundOf(media)
    if (sound.length) return
    try {
      const { file } = await this.clips.fileOf(media)
      await sound.open(this.clips.converter, file, join(this.folder, `${media.hash}.f32`))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.troubles.set(media.id, `${media.name} is not in it: ${error.message}`)
    }
  }

  private async levelsOf(media: Media): Promise<Float32Array> {
    await this.decode(media)
    const gathered = new FrameLevels(await this.clips.timesOf(media))
    const [sound, out] = [this.soundOf(media), stereo(batch)]
    for (let at = 0; at < sound.length; at += batch) {
      const count = Math.min(batch, sound.length - at)
      sound.read(at, count, out.left, out.right)
      for (const side of [out.left, out.right]) gathered.add(side.subarray(0, count), at / soundRate, soundRate)
    }
    return gathered.levels()
  }

  /** Level of a sound of a shot, or of all of them together, on its frames. */
  private async mixLevels(id: string, of: string): Promise<Float32Array | null> {
    const [stretch] = stretchesOf(this.records, id, null)
    if (!stretch) return null
    const { shot, media } = stretch
    this.times.set(media.id, await this.clips.timesOf(media))
    const all = of === wholeMix
    const mixer = new Mixer(await this.lanes([stretch], [0], all ? undefined : new Set([of])), all)
    const clock = clockOf(shot, media, this.times.get(media.id)!)
    const frames = Array.from({ length: shotLength(shot) }, (_, frame) => clock.sampleOf(frame) / soundRate)
    const gathered = new FrameLevels(frames)
    const out = stereo(batch)
    for (let at = 0; at < clock.end; at += batch) {
      mixer.next(out)
      for (const side of [out.left, out.right]) gathered.add(side, at / soundRate, soundRate)
    }
    return gathered.levels()
  }

  /** Writes all that is heard as WAV of 24 bits; gives its samples, 0 where nothing is heard. */
  private async wav(path: string, stretches: Stretch[]): Promise<number> {
    const times = stretches.map(({ media }) => this.times.get(media.id)!)
    const { media } = stretches[0]!
    const frames = framesOfFilm(stretches, times, media.variableRate ? null : fullRate(media.rate))
    const starts = stretches.map((_, i) => frames.find((one) => one.stretch === i)!.time)
    const lanes = await this.lanes(stretches, starts)
    if (!lanes.length) return 0
    const length = Math.round((frames.at(-1)!.time + frames.at(-1)!.duration) * soundRate)
    const fade = Math.min(length, soundRate / 100)
    const [mixer, out] = [new Mixer(lanes), stereo(batch)]
    const handle = await open(path, 'w')
    try {
      await handle.write(wavHead('s24', length, soundRate))
      for (let done = 0; done < length; done += batch) {
        const count = Math.min(batch, length - done)
        mixer.next(out, 0, count)
        // What is cut at the end goes within ten milliseconds.
        for (let i = Math.max(0, length - fade - done); i < count; i++) {
          const rest = Math.max(0, (length - 1 - done - i) / fade)
          out.left[i]! *= rest
          out.right[i]! *= rest
        }
        await handle.write(wavSamples('s24', out.left, out.right, count))
      }
    } finally {
      await handle.close()
    }
    return length
  }

  private async text(writes: string, stretches: Stretch[], title: string): Promise<string> {
    if (writes === 'edl') return editDecisionList(editOf(stretches, title))
    if (writes === 'otio') return openTimeline(editOf(stretches, title))
    if (stretches.length !== 1 || !this.order.shot)
      throw new Refusal('Shapes and tracks are of one shot: say which with --shot.')
    const { shot, media, from, to } = stretches[0]!
    const members = this.castOf(stretches[0]!)
    if (!members.length)
      throw new Refusal(this.order.of ? `Nobody is called ${this.order.of} in it.` : 'Nobody is traced in it.')
    const { width, height, rate } = media
    const range = this.order.frames ?? { from, to: to - 1 }
    const asked = { members, ...range, width, height, rate }
    const scene = sceneOf(this.records, shot.id)!
    if (writes === 'svg') return animatedSvg(scene, asked)
    if (writes === 'lottie') return lottieFile(scene, asked)
    if (writes === 'csv') return tracksCsv(this.records, scene, asked)
    if (writes === 'tracks') return tracksJson(this.records, scene, asked)
    const whole = members.map(({ id }) => this.records.get('member', id)!)
    return writeShapes(this.records, whole, { width, height, rate, frames: shotLength(shot) })
  }
}

/** How a codec is asked for what the interface asks its own for; a key every two seconds at the most, so that pieces join. */
function codecArguments({ codec, alpha }: Extract<Way, { way: 'video' }>, pixelsASecond: number): string[] {
  const bits = String(Math.max(2e6, Math.round(pixelsASecond * bitsPerPixel[codec])))
  const pixels = ['-pix_fmt', alpha ? 'yuva420p' : 'yuv420p']
  switch (codec) {
    case 'avc':
      return ['-c:v', 'libx264', '-preset', 'medium', '-b:v', bits, '-g', '48', ...pixels]
    case 'hevc':
      return [
        '-c:v',
        'libx265',
        '-preset',
        'medium',
        '-b:v',
        bits,
        '-tag:v',
        'hvc1',
        '-x265-params',
        'log-level=error',
        ...pixels,
      ]
    case 'av1':
      return ['-c:v', 'libaom-av1', '-cpu-used', '6', '-row-mt', '1', '-b:v', bits, ...pixels]
    case 'vp9':
      return [
        '-c:v',
        'libvpx-vp9',
        '-b:v',
        bits,
        '-row-mt',
        '1',
        '-g',
        '48',
        ...pixels,
        ...(alpha ? ['-auto-alt-ref', '0'] : []),
      ]
  }
}

/** ProRes 422 HQ and 4444, from 16 bits a channel. */
function proResArguments(kind: keyof typeof moreForms): string[] {
  const { profile, pixels } = moreForms[kind]
  const scale = `scale=out_color_matrix=bt709:out_range=tv,format=${pixels}`
  return [
    '-vf',
    scale,
    '-c:v',
    'prores_ks',
    '-profile:v',
    String(profile),
    '-vendor',
    'apl0',
    ...(profile > 3 ? ['-alpha_bits', '16'] : []),
  ]
}
