import { Mutex } from 'async-mutex'
import Libsql from 'libsql'
import { DataSource, type EntityManager } from 'typeorm'
import { entities } from './entities.ts'
import { codesOf } from './errorCodes.ts'
import { inUse } from './inspect.ts'
import { migrations } from './migrations.ts'

const muchRoom = 16 * 1024 ** 2

type Connection = InstanceType<typeof Libsql>
export type Snapshot = Connection

/**
 * The one connection and the queue before it. Transactions are begun and ended here, in plain SQL, and not by TypeORM: where
 * SQLite takes a transaction back by itself (a full disk at the commit), TypeORM goes on counting as if it were inside one,
 * and everything after that would be a savepoint that is never committed.
 */
export class Database {
  readonly file: string
  private readonly mutex = new Mutex()
  private source: DataSource
  /** Whether the last thing that went wrong may have left the connection in an unknown state. */
  private doubtful = false

  private constructor(file: string, source: DataSource) {
    this.file = file
    this.source = source
  }

  /** Opens the database, made when missing, and brings its tables up to date: all of the way or not at all. */
  static async open(file: string): Promise<Database> {
    const source = await connect(file)
    const database = new Database(file, source)
    try {
      await source.query('PRAGMA user_version = 0')
      await source.runMigrations({ transaction: 'all' })
      // From here on the file alone is not all: see inspect.ts.
      await database.mark(inUse)
    } catch (error) {
      await source.destroy().catch(() => {})
      throw error
    }
    return database
  }

  /** Runs alone, in a transaction: all of it happens and is on the disk when this resolves, or nothing did. */
  write<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.mutex.runExclusive(async () => {
      const { manager } = await this.clean()
      await manager.query('BEGIN IMMEDIATE')
      try {
        const result = await work(manager)
        await manager.query('COMMIT')
        if (this.connection.inTransaction) throw new Error('A transaction did not end with its commit.')
        return result
      } catch (error) {
        await this.takeBack()
        throw error
      }
    })
  }

  /** Runs alone, so that it never sees half of a change. */
  read<T>(work: (manager: EntityManager) => Promise<T>): Promise<T> {
    return this.mutex.runExclusive(async () => {
      const { manager } = await this.clean()
      try {
        return await work(manager)
      } catch (error) {
        this.doubtful ||= isOfTheDisk(error)
        throw error
      }
    })
  }

  /** A connection of its own that sees everything as it is now and delays nobody; for reading, and to be closed. */
  snapshot(): Connection {
    const own = new Libsql(this.file)
    own.pragma('query_only = ON')
    own.exec('BEGIN')
    return own
  }

  /** Brings what lies in the log into the file. */
  checkpoint(): Promise<void> {
    return this.mutex.runExclusive(async () => {
      const { manager } = await this.clean()
      await manager.query('PRAGMA wal_checkpoint(TRUNCATE)')
    })
  }

  /** Gives room inside the file back to the disk where there is much of it. */
  compact(): Promise<void> {
    return this.mutex.runExclusive(async () => {
      const { manager } = await this.clean()
      const [{ pages }] = await manager.query<[{ pages: number }]>(
        'SELECT freelist_count AS pages FROM pragma_freelist_count',
      )
      if (pages * 4096 > muchRoom) await manager.query('VACUUM')
      await manager.query('PRAGMA wal_checkpoint(TRUNCATE)')
    })
  }

  /** Closes it so that the file alone is all there is. */
  close(): Promise<void> {
    return this.mutex.runExclusive(async () => {
      try {
        await this.clean()
        await this.mark(0)
      } finally {
        await this.letGo()
      }
    })
  }

  private get connection(): Connection {
    return (this.source.driver as unknown as { databaseConnection: Connection }).databaseConnection
  }

  private async mark(state: number): Promise<void> {
    await this.source.query(`PRAGMA user_version = ${state}`)
    await this.source.query('PRAGMA wal_checkpoint(TRUNCATE)')
  }

  /** The connection, opened anew where it may not be clean. */
  private async clean(): Promise<DataSource> {
    if (!this.source.isInitialized || this.doubtful || this.connection.inTransaction) {
      if (this.source.isInitialized) await this.letGo()
      this.source = await connect(this.file)
      this.doubtful = false
      await this.mark(inUse)
    }
    return this.source
  }

  /** Closing alone leaves a transaction, and what it locks, until the connection is collected. */
  private async letGo(): Promise<void> {
    try {
      if (this.connection.inTransaction) this.connection.exec('ROLLBACK')
      // The last one to close a database takes its log away.
      const { user_version: state } = this.connection.prepare('PRAGMA user_version').get() as { user_version: number }
      if (state !== 0) this.connection.pragma('user_version = 0')
    } catch {
      // What can not even be taken back is gone with its connection.
    }
    await this.source.destroy()
  }

  /** Ends a transaction that failed. What can not be ended for certain goes with its connection. */
  private async takeBack(): Promise<void> {
    try {
      if (this.connection.inTransaction) await this.source.query('ROLLBACK')
      // A failed commit of SQLite's own accord leaves nothing open; all that is known of it is thrown away all the same.
      else this.doubtful = true
    } catch {
      this.doubtful = true
    }
  }
}

function connect(file: string): Promise<DataSource> {
  return new DataSource({
    type: 'better-sqlite3',
    driver: Libsql,
    database: file,
    entities,
    migrations,
    enableWAL: true,
    // FULL: an acknowledged change is on the disk, whatever happens to the process or the machine.
    prepareDatabase: (db: { pragma(text: string): void }) => {
      db.pragma('busy_timeout = 2000')
      db.pragma('synchronous = FULL')
      db.pragma('foreign_keys = ON')
    },
  }).initialize()
}

const isOfTheDisk = (error: unknown): boolean => /SQLITE_(IOERR|FULL|CORRUPT|CANTOPEN)/.test(codesOf(error))
