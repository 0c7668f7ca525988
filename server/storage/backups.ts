import { randomUUID } from 'node:crypto'
import { copyFile, mkdir, readFile, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import Libsql from 'libsql'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import { runJob } from '../jobs/runJob.ts'
import type { Files } from '../media/files.ts'
import { type BackupFile, backupFolder, backupName, listBackups, superfluous } from './backupFiles.ts'
import { Database } from './database.ts'
import { Projects } from './projects.ts'

/** Copies the database of a data folder to its backups. */
export async function makeBackup(folder: string, database: string, at = new Date()): Promise<void> {
  await mkdir(backupFolder(folder), { recursive: true })
  await runJob('storage/backup', { from: database, to: join(backupFolder(folder), backupName(at)) })
}

const hour = 3_600_000
/** Bytes that all backups may take until somebody says otherwise. */
const usualRoom = 2 * 1024 ** 3

/** The rolling copies of the database, made by SQLite itself while it is in use: hourly while there are changes. */
export class Backups {
  private readonly folder: string
  private readonly database: Database
  private readonly projects: Projects
  private timer: NodeJS.Timeout | null = null

  private readonly files: Files
  /** Clips that each backup needs: a backup never changes. */
  private readonly needed = new Map<string, string[]>()

  constructor(database: Database, projects: Projects, files: Files) {
    this.folder = files.folder
    this.files = files
    this.database = database
    this.projects = projects
  }

  /** Makes one whenever an hour has brought changes; `failed` hears of what went wrong. */
  start(failed: (error: unknown) => void, every = hour): void {
    this.timer = setInterval(() => void this.makeIfChanged().catch(failed), every)
    this.timer.unref()
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer)
  }

  /** Makes one where something has changed since the last; returns whether. */
  async makeIfChanged(): Promise<boolean> {
    const [last] = this.list()
    // Asked in the queue: what was written before is in it, what comes later is later than `at`.
    const { at, changed } = await this.database.read(async (manager) => {
      const [row] = await manager.query<{ changed: string | null }[]>(
        `SELECT max(max(changed, coalesce(deleted, ''))) AS changed FROM project`,
      )
      return { at: new Date(), changed: row!.changed }
    })
    if (changed === null || (last && new Date(changed) <= last.at)) return false
    await makeBackup(this.folder, this.database.file, at)
    await this.database.checkpoint()
    await this.tidy()
    return true
  }

  list(): BackupFile[] {
    return listBackups(this.folder)
  }

  /** Bytes that all of them may take together. */
  async room(): Promise<number> {
    try {
      return (JSON.parse(await readFile(this.settings, 'utf8')) as { room: number }).room
    } catch {
      return usualRoom
    }
  }

  async setRoom(bytes: number): Promise<void> {
    await mkdir(backupFolder(this.folder), { recursive: true })
    await writeFile(this.settings, JSON.stringify({ room: bytes }))
    await this.tidy()
  }

  /** The projects in a backup, by id and name. */
  async contents(name: string): Promise<{ id: string; name: string; changed: string }[]> {
    return this.inBackup(name, (_, old) => old.list())
  }

  /**
   * Puts projects of a backup on the shelf, as copies beside what is there: one of them, or all where `project` is null.
   * Returns the ids of the copies.
   */
  async bringBack(name: string, project: string | null): Promise<string[]> {
    const at = this.find(name).at
    const when = at.toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
    return this.inBackup(name, async (_, old) => {
      const wanted = (await old.list()).filter((one) => project === null || one.id === project)
      if (wanted.length === 0) throw new HttpRefusal(404, say`There is no such project in this backup.`)
      const made = []
      for (const one of wanted) {
        const id = await this.projects.copyIn(await old.whole(one.id), `${one.name.slice(0, 54)} of ${when}`)
        await this.files.copyThumbnail(one.id, id)
        made.push(id)
      }
      return made
    })
  }

  /** Hashes of the clips that some backup needs. */
  footageNeeded(): Set<string> {
    const backups = this.list()
    for (const name of this.needed.keys()) if (!backups.some((one) => one.name === name)) this.needed.delete(name)
    for (const { name } of backups) {
      if (this.needed.has(name)) continue
      const backup = new Libsql(join(backupFolder(this.folder), name))
      const rows = backup.prepare('SELECT DISTINCT hash FROM media').all() as { hash: string }[]
      backup.close()
      this.needed.set(
        name,
        rows.map((row) => row.hash),
      )
    }
    return new Set([...this.needed.values()].flat())
  }

  private get settings(): string {
    return join(backupFolder(this.folder), 'settings.json')
  }

  private find(name: string): BackupFile {
    const one = this.list().find((backup) => backup.name === name)
    if (!one) throw new HttpRefusal(404, say`This backup is not there any more.`)
    return one
  }

  /** Works on a copy of a backup, brought up to date as any database is, so that the backup itself stays what it was. */
  private async inBackup<T>(name: string, work: (database: Database, projects: Projects) => Promise<T>): Promise<T> {
    const copy = join(this.files.incoming, `${randomUUID()}.sqlite`)
    await copyFile(join(backupFolder(this.folder), this.find(name).name), copy)
    const database = await Database.open(copy)
    try {
      return await work(database, new Projects(database))
    } finally {
      await database.close()
      for (const ending of ['', '-wal', '-shm']) await rm(copy + ending, { force: true })
    }
  }

  private async tidy(): Promise<void> {
    for (const name of superfluous(this.list(), await this.room())) await rm(join(backupFolder(this.folder), name))
  }
}
