import { Mutex } from 'async-mutex'
import Libsql from 'libsql'
import { DataSource, type EntityManager } from 'typeorm'
import { entities } from './entities.ts'
import { migrations } from './migrations.ts'

/** The one connection and the queue before it: TypeORM's transactions on one connection must not interleave. */
export interface Database {
  source: DataSource
  /** Runs alone, in a transaction: all of it happens or nothing. */
  write<T>(work: (manager: EntityManager) => Promise<T>): Promise<T>
  /** Runs alone, so that it never sees half of a change. */
  read<T>(work: (manager: EntityManager) => Promise<T>): Promise<T>
  close(): Promise<void>
}

export async function openDatabase(file: string): Promise<Database> {
  const source = new DataSource({
    type: 'better-sqlite3',
    driver: Libsql,
    database: file,
    entities,
    migrations,
    migrationsRun: true,
    enableWAL: true,
    // FULL: an acknowledged change is on the disk, whatever happens to the process or the machine.
    prepareDatabase: (db: { pragma(text: string): void }) => {
      db.pragma('busy_timeout = 2000')
      db.pragma('synchronous = FULL')
      db.pragma('foreign_keys = ON')
    },
  })
  await source.initialize()
  const mutex = new Mutex()
  return {
    source,
    write: (work) => mutex.runExclusive(() => source.transaction(work)),
    read: (work) => mutex.runExclusive(() => work(source.manager)),
    close: () => mutex.runExclusive(() => source.destroy()),
  }
}
