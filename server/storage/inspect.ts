import { closeSync, existsSync, openSync, readdirSync, readSync, statSync } from 'node:fs'
import { dirname, join } from 'node:path'
import Libsql from 'libsql'
import { say } from '#core/say.ts'
import { listBackups } from './backupFiles.ts'
import { migrations } from './migrations.ts'
import { type StartChoice, StartTrouble } from './startTrouble.ts'

/** What `user_version` holds while changes may lie in the log beside the database: it is open, or was left by a crash. */
export const inUse = 1
/** The choice to go on with a database whose log is missing. */
export const withoutLog = 'without-log'
/** The choice to begin with nothing where a database was. */
export const anew = 'anew'

/**
 * Looks at a database before anything is written into it; that there is none is fine. Throws a {@link StartTrouble} where it
 * is damaged, lost, without its log, or written by a newer version. `chosen` is the way on that a person took.
 * Returns whether its tables are older than this version wants them.
 */
export function inspect(file: string, chosen = ''): { behind: boolean } {
  const size = existsSync(file) ? statSync(file).size : 0
  if (size === 0) {
    if (chosen !== anew) refuseIfLost(file)
    return { behind: false }
  }
  if (firstBytes(file) !== 'SQLite format 3\0') throw damaged(file, say`it does not begin like one`)
  const hasLog = existsSync(`${file}-wal`)
  const database = new Libsql(file)
  neverClosed.push(database)
  try {
    const been = migrationsOf(database)
    if (been.some((name) => timeOf({ name }) > newestOfOurs))
      throw new StartTrouble(
        say`The projects in ${dirname(file)} were written by a newer version of Wisp Trail; nothing was touched. Start that version, or set WISP_DATA to another folder.`,
      )
    const { quick_check: found } = database.prepare('PRAGMA quick_check(1)').get() as { quick_check: string }
    if (found !== 'ok') throw damaged(file, found)
    const { user_version: state } = database.prepare('PRAGMA user_version').get() as { user_version: number }
    if (state === inUse && !hasLog && chosen !== withoutLog)
      throw new StartTrouble(
        say`The log of ${file} is missing, and with it the last changes; nothing was touched. A copy of a database that was in use needs the file beside it that ends in -wal: put it there and start again, or go on without.`,
        [{ id: withoutLog, label: say`Go on without the last changes` }, ...backupChoices(file)],
      )
    return { behind: migrations.some(({ name }) => !been.includes(name)) }
  } catch (error) {
    if (error instanceof StartTrouble) throw error
    if (
      /SQLITE_(CORRUPT|NOTADB)|malformed|not a database/.test(`${(error as { code?: string }).code} ${String(error)}`)
    )
      throw damaged(file, (error as Error).message)
    throw error
  }
}

/**
 * Connections that only looked. Whoever closes a database as the last one brings its log into it and takes the log away, and
 * nothing is to be touched here; a connection that ends with the process does neither.
 */
const neverClosed: unknown[] = []

/** The time in a migration's name, by which TypeORM orders them. */
const timeOf = ({ name }: { name: string }): number => Number(name.slice(-13))
const newestOfOurs = Math.max(...migrations.map(timeOf))

/** Names of the migrations that a database has been through. */
function migrationsOf(database: InstanceType<typeof Libsql>): string[] {
  if (!database.prepare(`SELECT 1 FROM sqlite_master WHERE name = 'migrations'`).get()) return []
  return (database.prepare('SELECT name FROM migrations').all() as { name: string }[]).map((row) => row.name)
}

function firstBytes(file: string): string {
  const handle = openSync(file, 'r')
  try {
    const bytes = Buffer.alloc(16)
    readSync(handle, bytes, 0, 16, 0)
    return bytes.toString('latin1')
  } finally {
    closeSync(handle)
  }
}

const asRead = { weekday: 'long', day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' } as const
const backupChoices = (file: string): StartChoice[] =>
  listBackups(dirname(file))
    .slice(0, 5)
    .map(({ name, at }) => ({ id: `backup ${name}`, label: say`Go back to ${at.toLocaleString('en-GB', asRead)}` }))

const damaged = (file: string, why: string) =>
  new StartTrouble(
    say`The project database ${file} is damaged (${why}); nothing was touched. Go back to a backup: the damaged file is kept beside it.`,
    backupChoices(file),
  )

/** A folder with clips or backups in it had projects, too: an empty shelf would hide that they are lost. */
function refuseIfLost(file: string): void {
  const folder = dirname(file)
  const clips = existsSync(join(folder, 'footage')) && readdirSync(join(folder, 'footage')).length > 0
  if (!clips && listBackups(folder).length === 0) return
  throw new StartTrouble(
    say`The project database ${file} is ${existsSync(file) ? say`empty` : say`gone`}, but there are clips or backups beside it. Put the database back and start again, or go on from what is here.`,
    [...backupChoices(file), { id: anew, label: say`Begin with an empty shelf` }],
  )
}
