import { type AnyRecord, parentField, parentOf, type RecordType } from './types.ts'

export interface RecordRef {
  type: RecordType
  id: string
}
/**
 * A change. The same diff is the undo step, the redo step, the autosave message, the broadcast to a second tab
 * and the transaction in the database.
 */
export interface Diff {
  put: AnyRecord[]
  remove: RecordRef[]
}

export const refKey = (ref: RecordRef): string => `${ref.type}:${ref.id}`

/** One diff that does what `first` and then `second` do. */
export function composeDiffs(first: Diff, second: Diff): Diff {
  const put = new Map(first.put.map((record) => [refKey(record), record]))
  const remove = new Map(first.remove.map((ref) => [refKey(ref), ref]))
  for (const ref of second.remove) {
    put.delete(refKey(ref))
    remove.set(refKey(ref), { type: ref.type, id: ref.id })
  }
  for (const record of second.put) {
    remove.delete(refKey(record))
    put.set(refKey(record), record)
  }
  return { put: [...put.values()], remove: [...remove.values()] }
}

/** Records that both diffs touch, or that one removes while the other puts something on it: what can clash. */
export function clashes(mine: Diff, theirs: Diff): RecordRef[] {
  const touched = new Set([...theirs.put, ...theirs.remove].map(refKey))
  const removed = new Set(theirs.remove.map(refKey))
  const theirParents = new Set(theirs.put.map((r) => `${parentField[r.type]?.type}:${parentOf(r)}`))
  const puts = new Map(theirs.put.map((record) => [refKey(record), record]))
  const same = (record: AnyRecord) => JSON.stringify(puts.get(refKey(record))) === JSON.stringify(record)
  const out: RecordRef[] = []
  for (const record of mine.put) {
    const parent = parentField[record.type]
    if ((touched.has(refKey(record)) && !same(record)) || (parent && removed.has(`${parent.type}:${parentOf(record)}`)))
      out.push({ type: record.type, id: record.id })
  }
  for (const ref of mine.remove)
    if ((touched.has(refKey(ref)) && !removed.has(refKey(ref))) || theirParents.has(refKey(ref))) out.push(ref)
  return out
}
