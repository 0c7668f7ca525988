import { execFile } from 'node:child_process'
import { createHash } from 'node:crypto'
import { createWriteStream } from 'node:fs'
import { stat } from 'node:fs/promises'
import { join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { promisify } from 'node:util'
import { framesOf, isPictures, type Media } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { bounded, type Converter, localFile } from '../conversion/programs.ts'
import { runJob } from '../jobs/runJob.ts'
import { isWhole } from '../media/files.ts'
import type { Facts } from '../media/mediaFacts.ts'
import type { OpenProjectFile } from '../storage/projectFile.ts'
import { ClipReader } from './clipReader.ts'

/** The clips of a project file, unpacked when they are needed, or as they lie in a data folder. */
export class ClipFiles {
  private readonly found = new Map<string, Promise<{ file: string; facts: Facts }>>()
  private readonly readers = new Map<string, ClipReader>()
  private readonly project: OpenProjectFile
  private readonly folder: string
  private readonly footage: string
  readonly converter: Converter

  /** `folder`: for what is unpacked. `footage`: where clips that are not in the project file lie by their hashes; '' for nowhere. */
  constructor(project: OpenProjectFile, folder: string, footage: string, converter: Converter) {
    this.project = project
    this.folder = folder
    this.footage = footage
    this.converter = converter
  }

  /** The file of a clip. Throws a Refusal where it is to be had nowhere, or damaged in the project file. */
  fileOf(media: Media): Promise<{ file: string; facts: Facts }> {
    let known = this.found.get(media.hash)
    if (!known) this.found.set(media.hash, (known = this.find(media)))
    return known
  }

  private async find(media: Media): Promise<{ file: string; facts: Facts }> {
    const { hash, bytes } = media
    const inside = this.project.clips.has(hash)
    const file = join(inside ? this.folder : this.footage, hash)
    if (inside) await this.unpack(media, file)
    else if (!this.footage)
      throw new Refusal(say`The clip ${media.name} is not in the project file. Take the project out with its clips.`)
    else if (!(await isWhole(file, bytes)))
      throw new Refusal(say`The clip ${media.name} is not on this machine. Drop it onto the step Footage.`)
    return { file, facts: await runJob<Facts>('media/reading', { file, hash, bytes: (await stat(file)).size }) }
  }

  private async unpack({ hash, name }: Media, to: string): Promise<void> {
    const sum = createHash('sha256')
    const count = new Transform({ transform: (part: Buffer, _, done) => (sum.update(part), done(null, part)) })
    await pipeline(await this.project.clip(hash), count, createWriteStream(to))
    if (sum.digest('hex') !== hash)
      throw new Refusal(say`The clip ${name} is damaged in the project file. Take the project out once more.`)
  }

  /** Seconds of a clip's frames: of a sequence by the rate that it was given, of a video as the file says. */
  async timesOf(media: Media): Promise<number[]> {
    if (isPictures(media)) return Array.from({ length: framesOf(media) }, (_, i) => i / media.rate)
    return (await this.fileOf(media)).facts.times
  }

  async readerOf(media: Media): Promise<ClipReader> {
    const known = this.readers.get(media.id)
    if (known) return known
    const { file, facts } = await this.fileOf(media)
    const reader = new ClipReader(this.converter, file, media, facts, await this.hasAlpha(media, file))
    this.readers.set(media.id, reader)
    return reader
  }

  /** Lets decoders go, all but those of these clips. */
  closeOthers(keep: ReadonlySet<string>): void {
    for (const [id, reader] of this.readers)
      if (!keep.has(id)) {
        reader.close()
        this.readers.delete(id)
      }
  }
  close(): void {
    this.closeOthers(new Set())
    this.project.close()
  }

  private async hasAlpha({ codec }: Media, file: string): Promise<boolean> {
    if (codec !== 'vp9' && codec !== 'vp8') return false
    const asked = ['-v', 'error', '-select_streams', 'v:0', '-show_entries', 'stream_tags', '-of', 'json']
    const [program, args] = bounded(this.converter, 'ffprobe', [...asked, ...localFile(file)])
    const { stdout } = await promisify(execFile)(program, args)
    return /"alpha_mode"\s*:\s*"1"/i.test(stdout)
  }
}
