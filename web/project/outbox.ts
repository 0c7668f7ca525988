import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import type { Diff } from '#core/records/diff.ts'
import type { StepOfChange } from '#core/records/exchange.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { attend } from '../ui/troubles.ts'

/** A change that the server has not acknowledged yet. */
export interface UnsentChange {
  id: string
  project: string
  /** The tab that made it; its lock tells whether it still lives. */
  tab: string
  /** Rises within a tab. */
  number: number
  /** Revision of the project that the tab knew when it made the change. */
  base: number
  label: string
  diff: Diff
  step?: StepOfChange
}
interface Schema extends DBSchema {
  unsent: { key: string; value: UnsentChange; indexes: { project: string } }
}

/**
 * Unsent changes in IndexedDB: they outlive a closed tab and a stopped server. Where the browser refuses the
 * database (private windows), changes are still sent, only not kept here.
 */
export class Outbox {
  readonly tab = crypto.randomUUID()
  private readonly database: Promise<IDBPDatabase<Schema> | null>

  constructor() {
    this.database = openDB<Schema>('wisp-trail', 1, {
      upgrade: (db) => void db.createObjectStore('unsent', { keyPath: 'id' }).createIndex('project', 'project'),
    }).catch(() => null)
    // Held until the tab is gone, however it goes.
    const held = navigator.locks?.request(lockName(this.tab), () => new Promise(() => {}))
    if (held) attend(held, say`mark this tab as open`)
  }

  async keep(change: UnsentChange): Promise<void> {
    const database = await this.database
    if (!database)
      throw new Refusal(
        say`This browser keeps nothing for Wisp Trail: a private window, or its storage is switched off.`,
      )
    await database.put('unsent', change)
  }

  async drop(id: string): Promise<void> {
    await (await this.database)?.delete('unsent', id)
  }

  /** Changes to the project that could not be sent, oldest first: of tabs which are gone, and of this one before it left the project. */
  async orphans(project: string): Promise<UnsentChange[]> {
    const all = (await (await this.database)?.getAllFromIndex('unsent', 'project', project)) ?? []
    const gone = await tabsThatAreGone()
    return all
      .filter((change) => change.tab === this.tab || gone(change.tab))
      .sort((a, b) => (a.tab < b.tab ? -1 : a.tab > b.tab ? 1 : a.number - b.number))
  }
}

/** Tells of a tab whether it was closed. */
export async function tabsThatAreGone(): Promise<(tab: string) => boolean> {
  const held = new Set((await navigator.locks?.query())?.held?.map((lock) => lock.name))
  return (tab) => !held.has(lockName(tab))
}
const lockName = (tab: string) => `wisp-trail tab ${tab}`
