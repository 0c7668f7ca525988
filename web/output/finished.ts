import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import { tabsThatAreGone } from '../project/outbox.ts'

/** A file that was rendered and is on the browser's disk until the server has it. */
export interface Finished {
  id: string
  project: string
  shot: string
  name: string
  about: string
  /** The tab that rendered it: while that is open, it is its business. */
  tab: string
  /** Its name on the browser's disk. */
  place: string
}
interface Schema extends DBSchema {
  finished: { key: string; value: Finished; indexes: { project: string } }
}

/** The list of finished files, in IndexedDB, so that a reload or a crash of the tab loses none. */
export class FinishedFiles {
  private database: Promise<IDBPDatabase<Schema>> | null = null

  async keep(one: Finished): Promise<void> {
    await (await this.open()).put('finished', one)
  }

  /** Forgets the file and takes it off the browser's disk. */
  async drop({ id, place }: Finished): Promise<void> {
    await (await folder()).removeEntry(place).catch(() => {})
    await (await this.open()).delete('finished', id)
  }

  async file({ place }: Finished): Promise<File> {
    return (await (await folder()).getFileHandle(place)).getFile()
  }

  /** Files of a project that other tabs finished, and that are closed since. */
  async leftBehind(project: string, tab: string): Promise<Finished[]> {
    const all = await (await this.open()).getAllFromIndex('finished', 'project', project)
    const gone = await tabsThatAreGone()
    return all.filter((one) => one.tab !== tab && gone(one.tab))
  }

  private open(): Promise<IDBPDatabase<Schema>> {
    this.database ??= openDB<Schema>('wisp-trail-rendered', 1, {
      upgrade: (db) => void db.createObjectStore('finished', { keyPath: 'id' }).createIndex('project', 'project'),
    })
    return this.database
  }
}

const folder = async () => (await navigator.storage.getDirectory()).getDirectoryHandle('rendered', { create: true })
