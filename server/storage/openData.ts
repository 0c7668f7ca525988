import { accessSync, constants, copyFileSync, existsSync, mkdirSync, renameSync } from 'node:fs'
import { join } from 'node:path'
import { type Files, isWhole } from '../media/files.ts'
import { backupFolder, listBackups } from './backupFiles.ts'
import { makeBackup } from './backups.ts'
import { Database } from './database.ts'
import type { FootageRow, OutputRow } from './entities.ts'
import { inspect } from './inspect.ts'
import { type FolderLock, lockFolder } from './lock.ts'
import { StartTrouble } from './startTrouble.ts'

export interface OpenData {
  database: Database
  lock: FolderLock
}

/**
 * Opens the data folder for this process alone. Throws a {@link StartTrouble} where that can not be done without losing
 * something; `chosen` is the way on that a person took then, by the id of the choice.
 */
export async function openData(folder: string, chosen = ''): Promise<OpenData> {
  makeFolder(folder)
  const lock = lockFolder(folder)
  try {
    const file = join(folder, 'wisp-trail.sqlite')
    if (chosen.startsWith('backup ')) goBack(folder, file, chosen.slice('backup '.length))
    const { behind } = inspect(file, chosen)
    // Tables that are brought up to date are copied as they were.
    if (behind) await makeBackup(folder, file)
    return { database: await Database.open(file), lock }
  } catch (error) {
    lock.release()
    throw error
  }
}

function makeFolder(folder: string): void {
  try {
    mkdirSync(folder, { recursive: true })
    accessSync(folder, constants.R_OK | constants.W_OK | constants.X_OK)
  } catch {
    throw new StartTrouble(
      `The data folder ${folder} can not be written to. Change its permissions, or set WISP_DATA to another folder.`,
    )
  }
}

/** Puts a backup in the place of the database, which is kept beside it. */
function goBack(folder: string, file: string, name: string): void {
  const backup = listBackups(folder).find((one) => one.name === name)
  if (!backup) throw new StartTrouble('This backup is not there any more. Choose another one.')
  const aside = new Date().toISOString().slice(0, 19).replaceAll(':', '-')
  for (const ending of ['', '-wal', '-shm'])
    if (existsSync(file + ending)) renameSync(file + ending, `${file}.${aside}${ending}`)
  copyFileSync(join(backupFolder(folder), backup.name), file)
}

/** Rows of files that are not there, from before files came first, are taken out: a file under their name comes in again. */
export async function dropRowsWithoutFiles(database: Database, files: Files): Promise<void> {
  const lost = async <R extends { bytes: number }>(entity: string, fileOf: (row: R) => string): Promise<R[]> => {
    const rows = await database.read((manager) => manager.find<R>(entity))
    const whole = await Promise.all(rows.map((row) => isWhole(fileOf(row), row.bytes)))
    return rows.filter((_, i) => !whole[i])
  }
  const footage = await lost<FootageRow>('footage', (row) => join(files.footage, row.hash))
  const outputs = await lost<OutputRow>('output', (row) => join(files.outputs, row.id))
  if (footage.length + outputs.length === 0) return
  await database.write(async (manager) => {
    for (const { hash } of footage) await manager.delete('footage', { hash })
    for (const { id } of outputs) await manager.delete('output', { id })
  })
}
