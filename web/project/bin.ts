import { Records } from '#core/records/records.ts'
import type { AnyRecord, Member, Part } from '#core/records/types.ts'
import type { Step } from './steps.ts'

/** A member or part that was deleted and can come back by itself, whatever was done since. */
export interface Binned {
  record: Member | Part
  /** Milliseconds since 1970 of its deletion. */
  at: number
  /** The record with all that belonged to it. */
  put: AnyRecord[]
}

/**
 * What lies in the bin by the steps that were done, oldest first: what was deleted last comes first, each once. A part
 * whose member is gone, too, comes back with that one only.
 */
export function binOf(steps: readonly Pick<Step, 'forward' | 'back' | 'at'>[], records: Records): Binned[] {
  const found = new Map<string, Binned>()
  for (const { forward, back, at } of [...steps].reverse()) {
    const gone = new Set(forward.remove.map(({ type, id }) => `${type} ${id}`))
    if (!gone.size) continue
    const removed = new Records(back.put.filter(({ type, id }) => gone.has(`${type} ${id}`)))
    for (const record of [...removed.all('member'), ...removed.all('part')]) {
      const home = record.type === 'member' ? records.get('shot', record.shot) : records.get('member', record.member)
      if (!home || found.has(record.id) || records.get(record.type, record.id)) continue
      const refs = removed.withDescendants([{ type: record.type, id: record.id }])
      found.set(record.id, { record, at, put: refs.map(({ type, id }) => removed.get(type, id)!) })
    }
  }
  return [...found.values()]
}
