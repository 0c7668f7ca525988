import { createWriteStream } from 'node:fs'
import { access, constants, mkdtemp, rename, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import yazl from 'yazl'
import { fileName } from '#core/formats/fileName.ts'
import { levelsOf, type PictureCoding } from '#core/formats/pictureFile.ts'
import { fullRate } from '#core/formats/rate.ts'
import { cropOf, cropWords } from '#core/outgoing/crop.ts'
import { editDecisionList, editOf, openTimeline } from '#core/outgoing/editList.ts'
import { type FilmFrame, framesOfFilm, reduced } from '#core/outgoing/filmFrames.ts'
import { type FileKind, fileKinds, formOf, type Way, wayOf } from '#core/outgoing/forms.ts'
import { stretchesOf } from '#core/outgoing/orders.ts'
import { shapesText, type TextForm } from '#core/outgoing/shapesText.ts'
import { isNobody, whoseOf } from '#core/outgoing/whose.ts'
import { Scratch, withRoom } from '#core/pixels/buffers/scratch.ts'
import { startKernels } from '#core/pixels/kernels/engine.ts'
import type { Stretch } from '#core/records/film.ts'
import { Records } from '#core/records/records.ts'
import { clipPlace } from '#core/records/timing.ts'
import type { Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { type Content, isOfSomebody } from '#core/render/contents.ts'
import { type FileFrame, Painter } from '#core/render/painter.ts'
import { sceneOf } from '#core/render/scene.ts'
import { findConverter } from '../conversion/programs.ts'
import { openProjectFile } from '../storage/projectFile.ts'
import { ClipFiles } from './clips.ts'
import { ProjectScenes } from './projectScenes.ts'
import { ProjectSound } from './projectSound.ts'
import { addSound, retime, VideoFile, type VideoWay } from './videoFile.ts'

/** Whether a form is made without a window: what a browser's own encoders write, and what is many files, is not. */
const isMadeHere = (make: Way): boolean =>
  !(
    make.way === 'animation' ||
    (make.way === 'pictures' && make.coding === 'jpeg') ||
    (make.way === 'sound' && make.lanes) ||
    (make.way === 'shapes' && make.writes === 'svgs')
  )
/** Kinds that are rendered without a window. */
export const nodeKinds = fileKinds.filter((kind) => isMadeHere(wayOf(kind)))

/** What is rendered without a window. */
export interface NodeOrder {
  /** A project file. */
  project: string
  /** Folder in which clips lie by their hashes that are not in that file; '' where all are. */
  footage: string
  /** Name of the shot, or its id; '' for the whole film. */
  shot: string
  /** Frames of the shot, both included, that are a film of their own; all of them where there is none. */
  span: { from: number; to: number } | null
  content: Content
  /** Name of the member whose it is; '' for everybody. */
  of: string
  kind: FileKind
  /** Frames of what is rendered, both included: a piece of it, silent, to be joined with others. Null for all. */
  piece: { from: number; to: number } | null
  reduce: 1 | 2 | 4
  premultiplied: boolean
  /** Whether a matte or cut-out is cropped to what is seen of it. */
  crop: boolean
  /** Where it goes; '' for its usual name in the folder that one is in. */
  out: string
  /** Folder for what is unpacked and decoded on the way; '' for that of the system. */
  work: string
}

export interface NodeRendered {
  out: string
  frames: number
  /** Sentences about what is not in it. */
  troubles: string[]
  /** Where what is cropped lies in the plate, in words; '' where it is not. */
  lies: string
}

/** Renders a project file. `told`: how many frames are done. Throws a Refusal that says what is wrong; then nothing is left behind. */
export async function renderProject(order: NodeOrder, told: (done: number, of: number) => void): Promise<NodeRendered> {
  const converter = await findConverter()
  if (!converter) throw new Refusal('There is no ffmpeg on this machine. Install it, or say where it is with FFMPEG.')
  await access(order.project, constants.R_OK).catch(() => {
    throw new Refusal(`There is no file ${order.project}, or it can not be read.`)
  })
  const folder = await mkdtemp(join(order.work || tmpdir(), 'wisp-render-'))
  try {
    const project = await openProjectFile(order.project)
    const clips = new ClipFiles(project, folder, order.footage, converter)
    try {
      return await new ProjectRender(new Records(project.records), clips, folder, order).run(told)
    } finally {
      clips.close()
    }
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/** What is to be drawn of the project, frame by frame. */
interface Film {
  stretches: Stretch[]
  /** All frames, and those that are asked for. */
  all: FilmFrame[]
  asked: FilmFrame[]
  /** Number of the first of them. */
  from: number
  /** Frames a second, on the mean. */
  rate: number
}

class ProjectRender {
  private readonly records: Records
  private readonly clips: ClipFiles
  private readonly folder: string
  private readonly order: NodeOrder
  private readonly make: Way
  private readonly painter = new Painter(new Scratch(startKernels()))
  private readonly sound: ProjectSound
  private readonly scenes: ProjectScenes
  private lies = ''

  constructor(records: Records, clips: ClipFiles, folder: string, order: NodeOrder) {
    this.records = records
    this.clips = clips
    this.folder = folder
    this.order = order
    this.make = wayOf(order.kind)
    this.sound = new ProjectSound(records, clips, folder)
    this.scenes = new ProjectScenes(records, clips, this.sound)
  }

  async run(told: (done: number, of: number) => void): Promise<NodeRendered> {
    const { order, records } = this
    const title = records.all('project')[0]?.name ?? 'Film'
    const shot = order.shot ? this.shotCalled(order.shot) : null
    const stretches = stretchesOf(records, shot?.id ?? '', order.span)
    if (!stretches.length) throw new Refusal('There is no shot in this project.')
    const { ending } = formOf(order.kind)
    const suffix =
      order.content === 'over'
        ? ''
        : order.content === 'cutout'
          ? ' cut out'
          : order.content === 'clean'
            ? ' clean plate'
            : ` ${order.content}`
    const piece = order.piece ? ` frames ${order.piece.from} to ${order.piece.to}` : ''
    const out = order.out || `${fileName(`${shot?.name ?? title}${suffix}${piece}`, 'Film')}.${ending}`
    await access(dirname(out), constants.W_OK).catch(() => {
      throw new Refusal(`The folder of ${out} is not there, or can not be written to.`)
    })
    // It has its name when it is whole.
    const part = join(dirname(out), `.${process.pid}.${ending}`)
    try {
      const frames = await this.write(part, stretches, title, told)
      await rename(part, out)
      const troubles = [...this.sound.troubles.values(), ...this.scenes.troubles.values()]
      return { out, frames, troubles, lies: this.lies }
    } catch (error) {
      await rm(part, { force: true })
      throw error
    } finally {
      this.sound.close()
    }
  }

  private shotCalled(name: string): Shot {
    const shots = this.records.all('shot')
    const found = shots.find((one) => one.id === name || one.name === name)
    if (found) return found
    throw new Refusal(`No shot is called "${name}". There are: ${shots.map((one) => one.name).join(', ')}.`)
  }

  /** Writes the file; gives how many frames are in it. */
  private async write(
    part: string,
    stretches: Stretch[],
    title: string,
    told: (done: number, of: number) => void,
  ): Promise<number> {
    const { make } = this
    switch (make.way) {
      case 'edit': {
        const write = make.writes === 'edl' ? editDecisionList : openTimeline
        await writeFile(part, write(editOf(stretches, title)))
        return 1
      }
      case 'shapes':
        if (make.writes === 'svgs') break
        await writeFile(part, this.text(make.writes, stretches))
        return 1
      case 'sound': {
        if (make.lanes) break
        const { all } = await this.film(stretches)
        if (!(await this.sound.write(part, stretches, all)))
          throw new Refusal('Nothing is heard in it. Add a sound at the step Sound, or choose another file.')
        return all.length
      }
      case 'pictures':
        if (make.coding === 'jpeg') break
        return this.pictures(part, await this.film(stretches), make.coding, make.one, told)
      case 'video':
      case 'prores':
        return this.video(part, await this.film(stretches), make, told)
      case 'animation':
    }
    throw new Refusal('This is made in the interface only. --help tells what is made here.')
  }

  private async film(stretches: Stretch[]): Promise<Film> {
    const { media } = stretches[0]!
    const times = await Promise.all(stretches.map((one) => this.clips.timesOf(one.media)))
    const rate = media.variableRate ? media.rate : fullRate(media.rate)
    const all = framesOfFilm(stretches, times, media.variableRate ? null : rate)
    const { from, to } = this.order.piece ?? { from: 0, to: all.length - 1 }
    if (from > to || to >= all.length)
      throw new Refusal(`There are frames 0 to ${all.length - 1}; ${from} to ${to} are not all among them.`)
    return { stretches, all, asked: all.slice(from, to + 1), from, rate }
  }

  /** Frames of a film, each as it is asked for and with all that it is drawn from. */
  private async drawings({ stretches, all, asked }: Film, even: boolean) {
    const { content, reduce, crop, of } = this.order
    const whose = stretches.map(({ shot }) => whoseOf(this.records, shot.id, of))
    const needsCast = isOfSomebody(content)
    if (needsCast && whose.every(isNobody))
      throw new Refusal(of ? `There is no ${of} in it.` : 'Nobody is traced in it.')
    const whole = reduced(stretches[0]!.media, reduce)
    let cut =
      even && (whole.width | whole.height) & 1
        ? { x: 0, y: 0, width: whole.width & ~1, height: whole.height & ~1 }
        : null
    const only = stretches.length === 1 ? stretches[0]! : null
    const scene = crop && needsCast && content !== 'clean' && only && (await this.scenes.of(only.shot))
    if (scene) {
      // Of all frames: pieces are of one size.
      const span = { from: all[0]!.frame, to: all.at(-1)!.frame + 1 }
      cut = cropOf(scene, whose[0]!, span, 1 / reduce, cut ?? whole)
      this.lies = cropWords(cut)
    }
    const size = cut ?? whole
    const drawing = async (i: number) => {
      const { stretch, frame } = asked[i]!
      const { shot, media } = stretches[stretch]!
      const scene = await this.scenes.of(shot)
      const place = clipPlace(shot, frame)
      const yuv = await (await this.clips.readerOf(media)).get(place.frame, place.between)
      const others = await this.scenes.others(scene, shot, frame)
      const order: FileFrame = {
        frame,
        content,
        of: whose[stretch]!,
        size: whole,
        reduce,
        ...(cut ? { crop: cut } : {}),
      }
      return { scene, order, yuv, others }
    }
    return { drawing, width: size.width, height: size.height }
  }

  /** One picture, or a zip of them. Each is made when the one before is written, packed already, and let go then. */
  private async pictures(
    part: string,
    film: Film,
    coding: PictureCoding,
    one: boolean,
    told: (done: number, of: number) => void,
  ): Promise<number> {
    const { drawing } = await this.drawings(film, false)
    const { premultiplied } = this.order
    const picture = async (i: number) => {
      const { scene, order, yuv, others } = await drawing(i)
      return withRoom(() => this.painter.pictureFile(scene, { ...order, coding, premultiplied }, yuv, others))
    }
    if (one) {
      await writeFile(part, await picture(0))
      return 1
    }
    const zip = new yazl.ZipFile()
    for (let i = 0; i < film.asked.length; i++) {
      // A piece goes on with its own numbers.
      const name = `${String(film.from + i).padStart(5, '0')}.${coding === 'exr' ? 'exr' : 'png'}`
      zip.addReadStreamLazy(name, { compress: false }, (give) => {
        picture(i).then(
          (bytes) => {
            told(i + 1, film.asked.length)
            give(null, Readable.from([Buffer.from(bytes)], { objectMode: false }))
          },
          (error: unknown) => give(error, Readable.from([])),
        )
      })
    }
    const failed = new Promise<never>((_, fail) => (zip as unknown as NodeJS.EventEmitter).on('error', fail))
    zip.end()
    await Promise.race([pipeline(zip.outputStream, createWriteStream(part)), failed])
    return film.asked.length
  }

  private async video(
    part: string,
    film: Film,
    make: VideoWay,
    told: (done: number, of: number) => void,
  ): Promise<number> {
    const { content, piece } = this.order
    const { asked, rate } = film
    const { drawing, width, height } = await this.drawings(film, make.way === 'prores')
    // A piece is silent: sound that is cut and joined has seams. It is written whole, as wav.
    const wav = join(this.folder, 'sound.wav')
    const heard = content === 'over' && !piece && (await this.sound.write(wav, film.stretches, film.all)) > 0
    const size = { width: width & ~1, height: height & ~1 }
    const { converter } = this.clips
    const varies = film.stretches[0]!.media.variableRate && film.stretches.length === 1
    const sound = heard && !varies ? wav : ''
    const file = new VideoFile(converter, { file: part, make, ...size, rate, sound })
    try {
      /** What is written while the next frame is decoded. */
      let writing = Promise.resolve()
      for (let i = 0; i < asked.length; i++) {
        const { scene, order, yuv, others } = await drawing(i)
        await writing
        writing = file.add(
          withRoom(() => {
            if (make.way === 'video') return this.painter.forVideo(scene, order, make.alpha === true, yuv, others)
            const { light } = this.painter.forPicture(scene, order, true, yuv, others)
            // Without a plane of alpha what is clear lies on black. A matte is no colour.
            const form = { channels: content === 'matte' ? 'mattes' : 'rgba', premultiplied: !make.alpha } as const
            const levels = levelsOf(light!, 4, form)
            return new Uint8Array(levels.buffer, levels.byteOffset, levels.byteLength)
          }),
        )
        writing.catch(() => {})
        told(i + 1, asked.length)
      }
      await writing
      await file.end()
    } catch (error) {
      file.stop()
      throw error
    }
    if (varies) {
      const start = asked[0]!.time
      await retime(
        part,
        rate,
        asked.map((one) => ({ ...one, time: one.time - start })),
      )
      if (heard) await addSound(converter, part, make, wav)
    }
    return asked.length
  }

  private text(writes: TextForm, stretches: Stretch[]): string {
    if (stretches.length !== 1 || !this.order.shot)
      throw new Refusal('Shapes and tracks are of one shot: say which with --shot.')
    const { shot, media, from, to } = stretches[0]!
    const { of, piece } = this.order
    const members = this.records.childrenOf('member', shot.id).filter((one) => !of || one.name === of)
    if (!members.length) throw new Refusal(of ? `Nobody is called ${of} in it.` : 'Nobody is traced in it.')
    const { width, height, rate } = media
    const asked = { members, ...(piece ?? { from, to: to - 1 }), width, height, rate }
    return shapesText(this.records, sceneOf(this.records, shot.id)!, writes, asked)
  }
}
