import { readdir, rm, stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { EntityManager } from 'typeorm'
import type { Freeable, RoomTaken } from '#core/records/exchange.ts'
import type { Files } from '../media/files.ts'
import type { Backups } from './backups.ts'
import type { Database } from './database.ts'
import type { ConversionRow, FootageRow, OutputRow } from './entities.ts'
import { dropLooseMattes } from './mattes.ts'

const day = 86_400_000
/** Logs of changes that are older than this serve no tab any more. */
const oldLog = 30 * day
/** What came in since then may belong to a change that is still on its way. */
const fresh = day

/** A file that nobody needs, with the row that stands for it where there is one. */
interface Loose {
  name: string
  file: string
  bytes: number
  /** The row of a clip, as it was when nobody needed it. */
  row?: FootageRow | undefined
}

/** How much room everything takes, and what of it nobody needs any more: neither a project, nor an undo, nor a backup. */
export class Room {
  private readonly database: Database
  private readonly files: Files
  private readonly backups: Backups

  constructor(database: Database, files: Files, backups: Backups) {
    this.database = database
    this.files = files
    this.backups = backups
  }

  async taken(now = Date.now()): Promise<RoomTaken> {
    const sizes = async (folder: string) => (await filesIn(folder)).reduce((sum, one) => sum + one.bytes, 0)
    const database = await Promise.all(['', '-wal'].map((ending) => sizeOf(this.database.file + ending)))
    return {
      clips:
        (await sizes(this.files.footage)) + (await sizes(this.files.originals)) + (await sizes(this.files.lighter)),
      rendered: await sizes(this.files.outputs),
      pictures: await sizes(this.files.thumbnails),
      projects: database.reduce((a, b) => a + b, 0),
      backups: this.backups.list().reduce((sum, one) => sum + one.bytes, 0),
      freeable: await this.freeable(now),
    }
  }

  async freeable(now = Date.now()): Promise<Freeable[]> {
    const loose = await this.loose(now)
    const sum = (list: Loose[]) => ({ count: list.length, bytes: list.reduce((all, one) => all + one.bytes, 0) })
    const found: Freeable[] = [
      { what: 'clips', ...sum(loose.clips) },
      { what: 'originals', ...sum(loose.originals) },
      { what: 'rendered', ...sum(loose.rendered) },
      { what: 'pictures', ...sum(loose.pictures) },
      { what: 'logs', ...(await this.oldLogs(now)) },
    ]
    return found.filter((one) => one.count > 0)
  }

  /** Frees all of it; returns the bytes that were freed. */
  async free(now = Date.now()): Promise<number> {
    const before = await this.freeable(now)
    const { clips, originals, rendered, pictures } = await this.loose(now)
    const gone = [...originals, ...rendered, ...pictures]
    await this.database.write(async (manager) => {
      for (const clip of clips) {
        const { hash, stored } = clip.row ?? {}
        // One that has come in again meanwhile is wanted.
        if (hash && !(await manager.delete('footage', { hash, stored })).affected) continue
        gone.push(clip, { ...clip, file: join(this.files.lighter, clip.name) })
      }
      for (const { name } of originals) await manager.delete('conversion', { source: name })
      const limit = new Date(now - oldLog).toISOString()
      await manager.query(`DELETE FROM change WHERE at < ?`, [limit])
      await dropLooseMattes(manager, new Date(now).toISOString(), limit)
    })
    for (const { file } of gone) await rm(file, { force: true })
    await this.database.compact()
    return before.reduce((sum, one) => sum + one.bytes, 0)
  }

  private async loose(now: number): Promise<Record<Exclude<Freeable['what'], 'logs'>, Loose[]>> {
    const needed = this.backups.footageNeeded()
    const { footage, outputs, projects, converted } = await this.database.read(async (manager) => {
      for (const hash of await namedHashes(manager)) needed.add(hash)
      const projects = new Set((await manager.find<{ id: string }>('project')).map((row) => row.id))
      const conversions = await manager.find<ConversionRow>('conversion')
      const wanted = conversions.filter((row) => projects.has(row.project))
      // What was converted and waits for its project to be opened.
      for (const { result } of wanted) needed.add(result)
      return {
        converted: new Set(wanted.map((row) => row.source)),
        footage: new Map((await manager.find<FootageRow>('footage')).map((row) => [row.hash, row])),
        outputs: new Set((await manager.find<OutputRow>('output')).map((row) => row.id)),
        projects,
      }
    })
    const old = (time: number) => now - time > fresh
    const clips = (await filesIn(this.files.footage)).filter(({ name, time }) => {
      const row = footage.get(name)
      return !needed.has(name) && old(row ? Date.parse(row.stored) : time)
    })
    const copies = new Map((await filesIn(this.files.lighter)).map(({ name, bytes }) => [name, bytes]))
    return {
      clips: clips.map(({ bytes, ...one }) => ({
        ...one,
        bytes: bytes + (copies.get(one.name) ?? 0),
        row: footage.get(one.name),
      })),
      originals: (await filesIn(this.files.originals)).filter(({ name, time }) => !converted.has(name) && old(time)),
      rendered: (await filesIn(this.files.outputs)).filter(({ name, time }) => !outputs.has(name) && old(time)),
      pictures: (await filesIn(this.files.thumbnails)).filter(
        ({ name, time }) => !projects.has(name.replace(/\.png$/, '')) && old(time),
      ),
    }
  }

  private async oldLogs(now: number): Promise<{ count: number; bytes: number }> {
    const [row] = await this.database.read((manager) =>
      manager.query<{ count: number; bytes: number | null }[]>(
        `SELECT count(*) AS count, sum(length(diff)) AS bytes FROM change WHERE at < ?`,
        [new Date(now - oldLog).toISOString()],
      ),
    )
    return { count: row!.count, bytes: row!.bytes ?? 0 }
  }
}

/** Clips of every project, of those put aside, too, and of the changes that an undo may bring back. */
async function namedHashes(manager: EntityManager): Promise<string[]> {
  const rows = await manager.query<{ hash: string }[]>(
    `SELECT hash FROM media UNION
     SELECT json_extract(record.value, '$.hash') AS hash FROM change, json_each(change.diff, '$.put') AS record
     WHERE json_extract(record.value, '$.type') = 'media' UNION
     SELECT json_extract(record.value, '$.hash') AS hash FROM change, json_each(change.back, '$.put') AS record
     WHERE json_extract(record.value, '$.type') = 'media'`,
  )
  return rows.map((row) => row.hash)
}

async function filesIn(folder: string): Promise<{ name: string; file: string; bytes: number; time: number }[]> {
  const names = await readdir(folder)
  return Promise.all(
    names.map(async (name) => {
      const file = join(folder, name)
      const { size, mtimeMs } = await stat(file)
      return { name, file, bytes: size, time: mtimeMs }
    }),
  )
}
const sizeOf = async (file: string) => (await stat(file).catch(() => null))?.size ?? 0
