import { existsSync, readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'

/** A copy of the database, as it lies in the folder of backups. */
export interface BackupFile {
  /** Its file name: only what {@link listBackups} found may become a path. */
  name: string
  at: Date
  bytes: number
}

export const backupFolder = (data: string): string => join(data, 'backups')
const pattern = /^(\d{4}-\d\d-\d\d)T(\d\d)-(\d\d)-(\d\d)-(\d{3})Z\.sqlite$/

export const backupName = (at: Date): string => `${at.toISOString().replace(/[:.]/g, '-')}.sqlite`

/** The backups of a data folder, newest first. */
export function listBackups(data: string): BackupFile[] {
  const folder = backupFolder(data)
  if (!existsSync(folder)) return []
  return readdirSync(folder)
    .flatMap((name) => {
      const [, day, hour, minute, second, ms] = pattern.exec(name) ?? []
      if (!day) return []
      return [
        { name, at: new Date(`${day}T${hour}:${minute}:${second}.${ms}Z`), bytes: statSync(join(folder, name)).size },
      ]
    })
    .sort((a, b) => b.at.getTime() - a.at.getTime())
}

/** What a shelf keeps: everything of the last day, hourly, then one a day for two weeks. */
const hours = 24
const days = 14

/**
 * Names of the backups to drop: beyond the last 24 and one a day for 14 days, then the oldest while all take more than
 * `room` bytes; the newest stays whatever it takes.
 */
export function superfluous(backups: readonly BackupFile[], room: number): string[] {
  const kept = new Set(backups.slice(0, hours).map((one) => one.name))
  const seen = new Set<string>()
  for (const one of backups) {
    const day = one.at.toISOString().slice(0, 10)
    if (seen.size < days && !seen.has(day)) kept.add(one.name)
    seen.add(day)
  }
  let taken = 0
  for (const [i, one] of backups.entries()) {
    if (!kept.has(one.name)) continue
    taken += one.bytes
    if (taken > room && i > 0) kept.delete(one.name)
  }
  return backups.filter((one) => !kept.has(one.name)).map((one) => one.name)
}
