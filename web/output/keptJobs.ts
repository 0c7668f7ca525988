import { type DBSchema, type IDBPDatabase, openDB } from 'idb'
import { dropRendered, renderedFolder } from '../frames/renderedFiles.ts'
import { tabsThatAreGone } from '../project/outbox.ts'
import { outbox } from '../project/project.ts'
import type { OutputOrder } from '#core/outgoing/orders.ts'

/** What is kept of a job in this browser. While its tab is open, it is that one's business. */
interface Kept {
  id: string
  project: string
  shot: string
  name: string
  about: string
  tab: string
}
/** A job that waits for its turn, or is being rendered; `place`: in the queue. */
export interface WaitingJob extends Kept {
  order: OutputOrder
  frames: number
  place: number
}
/** A file that was rendered and is on the browser's disk until the server has it. */
export interface Finished extends Kept {
  /** Its name on the browser's disk. */
  place: string
}
interface Schema extends DBSchema {
  waiting: { key: string; value: WaitingJob; indexes: { project: string } }
  finished: { key: string; value: Finished; indexes: { project: string } }
}

/** Jobs and finished files, in IndexedDB, so that a reload or a crash of the tab loses none. */
export class KeptJobs {
  private database: Promise<IDBPDatabase<Schema>> | null = null

  async keep(one: Finished): Promise<void> {
    await (await this.open()).put('finished', one)
  }
  async enqueue(one: WaitingJob): Promise<void> {
    await (await this.open()).put('waiting', one)
  }
  /** A job is over, or nobody waits for it any more. */
  async done(id: string): Promise<void> {
    await (await this.open()).delete('waiting', id)
  }

  /** Forgets the file and takes it off the browser's disk. */
  async drop({ id, place }: Finished): Promise<void> {
    await dropRendered(place)
    await (await this.open()).delete('finished', id)
  }

  async file({ place }: Finished): Promise<File> {
    return (await (await renderedFolder()).getFileHandle(place)).getFile()
  }

  /** Files of a project that other tabs finished, and that are closed since. */
  async finishedBy(project: string): Promise<Finished[]> {
    return leftBehind(await (await this.open()).getAllFromIndex('finished', 'project', project))
  }
  /** Jobs of a project that waited in tabs that are closed since, in their order. */
  async waitedFor(project: string): Promise<WaitingJob[]> {
    const all = await leftBehind(await (await this.open()).getAllFromIndex('waiting', 'project', project))
    return all.sort((a, b) => a.place - b.place)
  }

  /** Takes half files of tabs that are gone off the browser's disk. */
  async sweep(): Promise<void> {
    const known = new Set((await (await this.open()).getAll('finished')).map((one) => one.place))
    const gone = await tabsThatAreGone()
    const all = await renderedFolder()
    for await (const name of all.keys())
      if (!known.has(name) && gone(tabOf(name))) await all.removeEntry(name).catch(() => {})
  }

  private open(): Promise<IDBPDatabase<Schema>> {
    this.database ??= openDB<Schema>('wisp-trail-rendered', 2, {
      upgrade(db, old) {
        if (old < 1) db.createObjectStore('finished', { keyPath: 'id' }).createIndex('project', 'project')
        db.createObjectStore('waiting', { keyPath: 'id' }).createIndex('project', 'project')
      },
    })
    return this.database
  }
}

/** Those whose tabs are closed. */
async function leftBehind<K extends Kept>(all: K[]): Promise<K[]> {
  const gone = await tabsThatAreGone()
  return all.filter((one) => one.tab !== outbox.tab && gone(one.tab))
}

/** A name for a file on the browser's disk that tells which tab writes it. */
export const newPlace = (): string => `${outbox.tab} ${crypto.randomUUID()}`
const tabOf = (place: string): string => place.split(' ')[0]!
