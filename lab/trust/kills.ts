import { spawnSync } from 'node:child_process'
import { appendFile, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Chance } from '../support/chance.ts'
import { root } from '../support/places.ts'
import { ServerProcess } from '../support/serverProcess.ts'
import { Ledger } from './ledger.ts'

export interface Kills {
  kills: number
  acknowledged: number
  faults: string[]
}

/** Pieces of work that are acknowledged before every second kill. */
const workFirst = 3

/**
 * Kills the server at random moments: in the middle of changes, uploads, files being kept and backups, while it brings its
 * tables up to date, and with a last write that got only half-way to the disk. Every start is compared with what had been
 * acknowledged.
 */
export async function kills(data: string, rounds: number, chance: Chance, built: boolean): Promise<Kills> {
  const ledger = new Ledger(chance)
  const faults: string[] = []
  for (let round = 0; round < rounds; round++) {
    if (round % 10 === 9) await migrationKilled(data, chance, built)
    const server = await ServerProcess.start(data, built)
    if (!server.address) return { kills: round, acknowledged: ledger.acknowledged, faults: [server.said] }
    if (!ledger.project) await ledger.begin(server)
    for (const fault of await ledger.faults(server)) faults.push(`after kill ${round}: ${fault}`)
    const killSoon = () => setTimeout(() => server.kill('SIGKILL'), 5 + chance.below(250))
    try {
      // Every second time some work is acknowledged first, however slow the machine is.
      if (round % 2) for (let done = 0; done < workFirst; done++) await ledger.work(server)
      killSoon()
      for (;;) await ledger.work(server)
    } catch (error) {
      if (!/fetch failed|terminated|closed|JSON/.test(String(error))) throw error
    }
    await server.ended
    if (round % 3 === 0) await tear(join(data, 'wisp-trail.sqlite-wal'), chance)
  }
  const last = await ServerProcess.start(data, built)
  faults.push(...(await ledger.faults(last)))
  await last.stop('SIGTERM')
  return { kills: rounds, acknowledged: ledger.acknowledged, faults }
}

/** Makes the database what it was before its last migration; a process of its own, which ends without closing anything. */
const older = `
  import Libsql from 'libsql'
  const database = new Libsql(process.argv[1])
  database.exec('BEGIN')
  for (const { id, matte } of database.prepare('SELECT id, matte FROM "key" WHERE matte IS NOT NULL').all()) {
    const kept = JSON.parse(matte)
    const { data } = database.prepare('SELECT data FROM matte WHERE name = ?').get(kept.data.slice(1))
    database.prepare('UPDATE "key" SET matte = ? WHERE id = ?').run(JSON.stringify({ ...kept, data }), id)
  }
  database.exec(\`DELETE FROM change; DROP TABLE matte; DELETE FROM migrations WHERE name LIKE 'MattesApart%'; COMMIT\`)
  process.kill(process.pid, 'SIGKILL')`

/** Kills the server while it brings its tables up to date. */
async function migrationKilled(data: string, chance: Chance, built: boolean): Promise<void> {
  spawnSync(process.execPath, ['--input-type=module', '-e', older, join(data, 'wisp-trail.sqlite')], { cwd: root })
  const server = new ServerProcess(data, built)
  setTimeout(() => server.kill('SIGKILL'), chance.below(500))
  await server.ended
}

/** A write that was under way when the power went: the log goes on with a piece of itself, which is no whole frame. */
async function tear(log: string, chance: Chance): Promise<void> {
  const bytes = await readFile(log).catch(() => Buffer.alloc(0))
  if (bytes.length < 8000) return
  const frame = bytes.subarray(bytes.length - 4120)
  const torn = Buffer.from(frame.subarray(0, 24 + chance.below(4096)))
  // Pieces of it may have come in another order.
  if (torn.length > 1200) torn.copy(torn, 600, 24, 500)
  await appendFile(log, torn)
}
