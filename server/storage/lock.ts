import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import Libsql from 'libsql'
import { StartTrouble } from './startTrouble.ts'

/** The hold of this process on a data folder. */
export interface FolderLock {
  /** Tells a second server where this one answers. */
  say(address: string): void
  release(): void
}

/**
 * Keeps the data folder for this process alone. What holds is SQLite's own lock on a file of its own: the system lets it go
 * with the process, however that ends. Throws a {@link StartTrouble} that says who is running where another one holds it.
 */
export function lockFolder(folder: string): FolderLock {
  const who = join(folder, 'running.json')
  const held = new Libsql(join(folder, 'running.sqlite'))
  try {
    held.pragma('busy_timeout = 0')
    held.exec('BEGIN EXCLUSIVE')
  } catch (error) {
    held.close()
    if (!/busy|locked/i.test(String((error as Error).message))) throw error
    const sentence = `Wisp Trail runs on the data folder ${folder} already${running(who)}. Use that one, or stop it first.`
    throw new StartTrouble(sentence, [], true)
  }
  const say = (address: string) => writeFileSync(who, JSON.stringify({ process: process.pid, address }))
  say('')
  return {
    say,
    release() {
      rmSync(who, { force: true })
      // Closing alone leaves the lock until the connection is collected.
      held.exec('ROLLBACK')
      held.close()
    },
  }
}

function running(who: string): string {
  try {
    const { process: id, address } = JSON.parse(readFileSync(who, 'utf8')) as { process: number; address: string }
    return address ? `: open ${address} (process ${id})` : ` (process ${id})`
  } catch {
    return ''
  }
}
