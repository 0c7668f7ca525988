import { randomUUID } from 'node:crypto'
import { mkdir, readdir, readFile, rename, rm, stat, statfs } from 'node:fs/promises'
import { join } from 'node:path'
import { Mutex } from 'async-mutex'
import type { Logger } from 'pino'
import type { BrightLight } from '#core/pixels/colour/hdr.ts'
import type { ConversionChoices, ConversionState } from '#core/records/exchange.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { Files } from '../media/files.ts'
import type { Facts } from '../media/mediaFacts.ts'
import type { Database } from '../storage/database.ts'
import type { ConversionRow, FootageRow } from '../storage/entities.ts'
import { convert } from './convert.ts'
import { planOf, previewOf, questionsOf, roomFor } from './plan.ts'
import { type Converter, findConverter } from './programs.ts'
import { packSequence, sourceIn, unpackSequence } from './sequence.ts'
import { type Source, sourceOf } from './source.ts'

const isBright = (bright: unknown): bright is BrightLight => bright === 'kept' || bright === 'cut'

/** Takes a finished file in as footage, and gives its facts. */
export type TakeIn = (file: string) => Promise<Facts>

/**
 * Clips that the browser does not decode, made into ones that it does: one after the other, whether somebody looks or not. What
 * was under way when the server stopped is begun again.
 */
export class Conversions {
  private readonly database: Database
  private readonly files: Files
  private readonly takeIn: TakeIn
  private readonly log: Logger
  private converter: Promise<Converter | null> | null = null
  private readonly stop = new AbortController()
  /** The one under way. */
  private now: { id: string; share: number; began: number; stop: AbortController } | null = null
  /** One preview after the other, too. */
  private readonly previewing = new Mutex()
  private working: Promise<void> = Promise.resolve()

  constructor(database: Database, files: Files, takeIn: TakeIn, log: Logger) {
    this.database = database
    this.files = files
    this.takeIn = takeIn
    this.log = log
  }

  /** Lets originals go that nobody asked to convert, and goes on with what was left. */
  async start(): Promise<void> {
    const rows = await this.rows()
    const wanted = new Set(rows.map((row) => row.source))
    for (const name of await readdir(this.files.originals))
      if (!wanted.has(name)) await rm(join(this.files.originals, name), { force: true })
    this.goOn()
  }

  async close(): Promise<void> {
    this.stop.abort(new Error('The server stops.'))
    await this.working
  }

  /**
   * Takes a file that came in as one to be converted for a project; the same file for the same project is one conversion. Throws
   * a Refusal that says why where it can not be converted; `otherwise`: what is said where nothing here converts.
   */
  async ask(
    project: string,
    name: string,
    { file, hash, bytes }: { file: string; hash: string; bytes: number },
    otherwise: string,
  ): Promise<ConversionState> {
    const known = (await this.rows()).find((row) => row.project === project && row.source === hash)
    if (known && ['asking', 'waiting'].includes(known.state)) return this.stateOf(known)
    const source = await this.consider(file, otherwise)
    const questions = questionsOf(source)
    // What was converted once is there: it is brought in once more.
    const there = known?.result && !questions ? await this.factsOf(known.result) : null
    const row: ConversionRow = {
      ...{
        id: randomUUID(),
        project,
        name: name.slice(0, 260),
        source: hash,
        bytes,
        called: source.called,
      },
      ...{
        state: there ? 'done' : questions ? 'asking' : 'waiting',
        result: there ? known!.result : '',
        error: there ? known!.error : '',
      },
      ...{ questions, choices: questions?.best ?? null, asked: new Date().toISOString() },
    }
    await rename(file, join(this.files.originals, hash))
    await this.database.write(async (manager) => {
      if (known) await manager.delete('conversion', { id: known.id })
      await manager.insert('conversion', row as never)
    })
    this.goOn()
    return this.stateOf(row)
  }

  /** What a file holds, or the ends of one, and what is said of it. Throws a Refusal as {@link ask} where it can not be converted. */
  async consider(file: string, otherwise: string): Promise<Source> {
    const converter = await (this.converter ??= findConverter())
    if (!converter) {
      this.converter = null
      throw new HttpRefusal(
        415,
        say`${otherwise} Or install ffmpeg where the Wisp Trail server runs: then it converts it itself.`,
      )
    }
    const source = await sourceIn(converter, file, join(this.files.incoming, `look-${randomUUID()}`))
    if (!source) throw new HttpRefusal(422, otherwise)
    await this.files.askForRoom(
      roomFor(source, questionsOf(source)?.best ?? null),
      say`Converted, the clip takes about`,
    )
    return source
  }

  /** The conversions of a project, in the order in which they were asked for. */
  async of(project: string): Promise<ConversionState[]> {
    const rows = (await this.rows()).filter((row) => row.project === project)
    return Promise.all(rows.map((row) => this.stateOf(row)))
  }

  /** Takes what somebody has chosen, and goes on with it. */
  async choose(project: string, id: string, choices: unknown): Promise<void> {
    const row = (await this.rows()).find((one) => one.project === project && one.id === id)
    if (row?.state !== 'asking' || !row.questions)
      throw new HttpRefusal(404, say`Nothing is asked of this clip any more.`)
    const { streams, widths } = row.questions
    const { stream, picture, width, bright = 'kept' } = (choices ?? {}) as Partial<ConversionChoices>
    const known = streams.some((one) => one.stream === stream) && widths.includes(width!) && isBright(bright)
    if (!known || (picture !== 'frame' && picture !== 'field'))
      throw new HttpRefusal(422, say`Choose one of the streams, sizes and ways that were offered for this clip.`)
    const chosen = { choices: { stream, picture, width, bright }, state: 'waiting' }
    await this.database.write((manager) => manager.update('conversion', { id, state: 'asking' }, chosen as never))
    this.goOn()
  }

  /** A small picture of a clip that waits for a choice, its bright light as it would become: a PNG. */
  async preview(project: string, id: string, bright: unknown, signal: AbortSignal): Promise<Buffer> {
    const row = (await this.rows()).find((one) => one.project === project && one.id === id)
    const converter = await (this.converter ??= findConverter())
    if (row?.state !== 'asking' || !isBright(bright) || !converter)
      throw new HttpRefusal(404, say`Nothing is asked of this clip any more.`)
    return this.previewing.runExclusive(async () => {
      const from = join(this.files.originals, row.source)
      const source = await sourceOf(converter, from)
      if (!source) throw new HttpRefusal(422, say`The file as it came in is gone or damaged. Bring the clip in again.`)
      const folder = join(this.files.incoming, `preview-${randomUUID()}`)
      await mkdir(folder, { recursive: true })
      try {
        const job = { from, folder, plan: previewOf(source, bright), seconds: 0, most: 1e7, progressed: () => {} }
        return await readFile(await convert(converter, job, AbortSignal.any([signal, this.stop.signal])))
      } finally {
        await rm(folder, { recursive: true, force: true })
      }
    })
  }

  /** What came of it is in its project: it is not brought in again. */
  async take(project: string, id: string): Promise<void> {
    await this.database.write((manager) =>
      manager.update('conversion', { project, id, state: 'done' }, { state: 'taken' }),
    )
  }

  /** Ends it wherever it is, and lets its original go; what has come of it stays. */
  async drop(project: string, id: string): Promise<void> {
    const rows = await this.rows()
    const row = rows.find((one) => one.project === project && one.id === id)
    if (!row) return
    await this.database.write((manager) => manager.delete('conversion', { id }))
    if (this.now?.id === id) this.now.stop.abort(new Error('It is not wanted any more.'))
    const others = rows.some((one) => one.id !== id && one.source === row.source)
    if (!others) await rm(join(this.files.originals, row.source), { force: true })
  }

  private rows = (): Promise<ConversionRow[]> =>
    this.database.read((manager) => manager.find<ConversionRow>('conversion', { order: { asked: 'ASC' } }))

  private async stateOf(row: ConversionRow): Promise<ConversionState> {
    const { id, name, bytes, called, state, error, questions } = row
    const now = this.now?.id === id ? this.now : null
    const share = now?.share ?? (state === 'done' || state === 'taken' ? 1 : 0)
    const spent = now ? (performance.now() - now.began) / 1000 : 0
    const left = share > 0.02 && share < 1 ? (spent * (1 - share)) / share : null
    const facts = row.result ? await this.factsOf(row.result) : null
    const slow = (await this.converter)?.packaged ?? false
    return {
      ...{ id, name, bytes, called, slow, error, share, left, facts, questions },
      state: now ? 'running' : state,
    }
  }

  private async factsOf(hash: string) {
    const row = await this.database.read((manager) => manager.findOneBy<FootageRow>('footage', { hash }))
    if (!row) return null
    const { times: _, pictures: __, ...facts } = row.facts as Facts
    return facts
  }

  /** One after the other: a machine that converts two at once does neither well. */
  private goOn(): void {
    this.working = this.working
      .then(async () => {
        while (!this.stop.signal.aborted) {
          const next = (await this.rows()).find((row) => row.state === 'waiting')
          if (!next) return
          await this.work(next)
        }
      })
      .catch((error: unknown) => this.log.error({ error }, 'converting ended'))
  }

  private async work(row: ConversionRow): Promise<void> {
    const stop = new AbortController()
    const signal = AbortSignal.any([stop.signal, this.stop.signal])
    this.now = { id: row.id, share: 0, began: performance.now(), stop }
    const folder = join(this.files.incoming, `conversion-${row.id}`)
    let [result, error, remark] = ['', '', '']
    try {
      const converter = await (this.converter ??= findConverter())
      if (!converter)
        throw new HttpRefusal(415, say`ffmpeg is not there any more. Install it, and bring the clip in again.`)
      const from = join(this.files.originals, row.source)
      const source = await sourceIn(converter, from, join(folder, 'look'), row.choices?.stream)
      if (!source) throw new HttpRefusal(422, say`The file as it came in is gone or damaged. Bring the clip in again.`)
      await mkdir(folder, { recursive: true })
      const progressed = (share: number) => this.now && (this.now.share = share)
      const { bavail, bsize } = await statfs(folder)
      // A small file that says it is a large one does not fill the disk.
      const most = Math.floor(Math.min(0.9 * bavail * bsize, 1e9 + 60 * row.bytes))
      const made = await convert(
        converter,
        {
          ...{ folder, most, progressed, plan: planOf(source, converter, row.choices), seconds: source.seconds },
          from: source.pictures ? (await unpackSequence(from, join(folder, 'pictures')))!.pattern : from,
        },
        signal,
      )
      if (source.pictures && (await packSequence(folder, made)) < source.pictures)
        throw new HttpRefusal(
          422,
          say`Some pictures of the sequence are damaged. Copy them from where they were made again.`,
        )
      if ((await stat(made)).size === 0)
        throw new HttpRefusal(422, say`The clip holds not one frame that could be converted.`)
      const facts = await this.takeIn(made)
      result = facts.hash
      remark = endsEarly(facts.seconds, source.meant)
    } catch (caught) {
      if (this.stop.signal.aborted) return
      if (!signal.aborted) {
        if (!(caught instanceof HttpRefusal)) this.log.error({ error: caught }, 'a clip could not be converted')
        error = caught instanceof HttpRefusal ? caught.message : say`The clip could not be converted. Try again.`
      }
    } finally {
      this.now = null
      await rm(folder, { recursive: true, force: true })
    }
    // Unless it was dropped meanwhile.
    await this.database.write((manager) =>
      manager.update(
        'conversion',
        { id: row.id },
        { state: error ? 'failed' : 'done', result, error: error || remark },
      ),
    )
  }
}

/** What is said where a file holds less than it says; '' where it does not. */
function endsEarly(seconds: number, meant: number): string {
  // Headers round, and the last frame may have no length.
  if (seconds > 0.97 * meant - 0.2) return ''
  return say`The file ends early: of ${meant.toFixed(1)} seconds ${seconds.toFixed(1)} are in it. If it is whole on the camera, copy it from there again.`
}
