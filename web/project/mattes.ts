import type { StoredChange } from '#core/records/exchange.ts'
import { type AnyRecord, matteElsewhere, withPixels } from '#core/records/types.ts'
import { api } from './api.ts'

const atOnce = 100

/** The records with the pixels of their mattes, where the server kept them apart and still has them. */
export async function withMattes<R extends AnyRecord>(records: readonly R[]): Promise<R[]> {
  const names = [...new Set(records.flatMap((record) => matteElsewhere(record) ?? []))]
  const known = new Map<string, string>()
  for (let i = 0; i < names.length; i += atOnce)
    for (const [name, data] of Object.entries(await api.mattes(names.slice(i, i + atOnce)))) known.set(name, data)
  return records.map((record) => {
    const data = known.get(matteElsewhere(record) ?? '')
    return data !== undefined && record.type === 'key' ? (withPixels(record, data) as R) : record
  })
}

/** A change of another tab with its pixels. Without them where they can not be had: nothing else waits for them. */
export async function changeWithMattes(change: StoredChange): Promise<StoredChange> {
  if (!change.diff.put.some(matteElsewhere)) return change
  try {
    return { ...change, diff: { ...change.diff, put: await withMattes(change.diff.put) } }
  } catch {
    return change
  }
}
