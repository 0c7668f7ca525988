import { describe, expect, it } from 'vitest'
import { backupName, superfluous } from './backupFiles.ts'

const hour = 3_600_000
const now = Date.UTC(2026, 5, 30, 12)
const backup = (hoursAgo: number, bytes = 100) => {
  const at = new Date(now - hoursAgo * hour)
  return { name: backupName(at), at, bytes }
}

describe('backups that are kept', () => {
  it('are the last 24, and of the days before the last of each, for 14 days', () => {
    const all = Array.from({ length: 30 * 24 }, (_, i) => backup(i))
    const dropped = new Set(superfluous(all, Infinity))
    const kept = all.filter((one) => !dropped.has(one.name))
    expect(kept.slice(0, 24)).toEqual(all.slice(0, 24))
    // From noon on the last 24 reach into yesterday: two days are among them, twelve more follow.
    const days = kept.map((one) => one.at.toISOString().slice(0, 10))
    expect(new Set(days).size).toBe(14)
    expect(kept.slice(24).map((one) => one.at.getUTCHours())).toEqual(Array<number>(12).fill(23))
  })
  it('stay within their room, the newest whatever it takes', () => {
    const all = [backup(0, 500), backup(1, 200), backup(2, 200), backup(3, 200)]
    expect(superfluous(all, 900)).toEqual([all[3]!.name])
    expect(superfluous(all, 10)).toEqual(all.slice(1).map((one) => one.name))
  })
})
