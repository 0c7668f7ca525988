import { type Diff, type RecordRef, refKey } from './diff.ts'
import { type AnyRecord, parentField, parentOf, type RecordType, recordTypes, type RecordTypes } from './types.ts'

/**
 * The records of one project with an index from parent to children. Applying a diff costs only what the diff
 * touches, however many records there are.
 */
export class Records {
  private readonly maps = Object.fromEntries(recordTypes.map((type) => [type, new Map()])) as {
    [T in RecordType]: Map<string, RecordTypes[T]>
  }
  /** Children by '<child type>:<parent id>'; a list is made sorted on first reading and dropped on change. */
  private readonly children = new Map<string, Map<string, AnyRecord>>()
  private readonly sorted = new Map<string, AnyRecord[]>()

  constructor(records: Iterable<AnyRecord> = []) {
    for (const record of records) this.set(record)
  }

  get<T extends RecordType>(type: T, id: string): RecordTypes[T] | undefined {
    return this.maps[type].get(id)
  }

  all<T extends RecordType>(type: T): RecordTypes[T][] {
    return [...this.maps[type].values()].sort(byPlace)
  }

  /** Children of one type, in their order (keys and aways by frame). The list must not be changed. */
  childrenOf<T extends RecordType>(type: T, parent: string): readonly RecordTypes[T][] {
    const slot = `${type}:${parent}`
    let list = this.sorted.get(slot)
    if (!list) {
      list = [...(this.children.get(slot)?.values() ?? [])].sort(byPlace)
      this.sorted.set(slot, list)
    }
    return list as RecordTypes[T][]
  }

  *values(): Generator<AnyRecord> {
    for (const type of recordTypes) yield* this.maps[type].values()
  }

  /** Applies the diff and returns the one that takes it back. */
  apply(diff: Diff): Diff {
    const back: Diff = { put: [], remove: [] }
    for (const ref of diff.remove) {
      const before = this.maps[ref.type].get(ref.id)
      if (before) {
        back.put.push(before)
        this.delete(before)
      }
    }
    for (const record of diff.put) {
      const before = this.maps[record.type].get(record.id)
      if (before) back.put.push(before)
      else back.remove.push({ type: record.type, id: record.id })
      this.set(record)
    }
    return back
  }

  /** The record and everything that hangs on it, children last to first parent: a complete removal. */
  withDescendants(refs: RecordRef[]): RecordRef[] {
    const out = new Map<string, RecordRef>()
    const visit = (ref: RecordRef) => {
      if (out.has(refKey(ref))) return
      out.set(refKey(ref), ref)
      for (const type of recordTypes)
        if (parentField[type]?.type === ref.type)
          for (const child of this.childrenOf(type, ref.id)) visit({ type, id: child.id })
    }
    refs.forEach(visit)
    return [...out.values()]
  }

  private set(record: AnyRecord): void {
    const before = this.maps[record.type].get(record.id)
    if (before) this.delete(before)
    ;(this.maps[record.type] as Map<string, AnyRecord>).set(record.id, Object.freeze(record))
    const parent = parentOf(record)
    if (parent === null) return
    const slot = `${record.type}:${parent}`
    let group = this.children.get(slot)
    if (!group) this.children.set(slot, (group = new Map()))
    group.set(record.id, record)
    this.sorted.delete(slot)
  }

  private delete(record: AnyRecord): void {
    this.maps[record.type].delete(record.id)
    const parent = parentOf(record)
    if (parent === null) return
    const slot = `${record.type}:${parent}`
    this.children.get(slot)?.delete(record.id)
    this.sorted.delete(slot)
  }
}

function byPlace(a: AnyRecord, b: AnyRecord): number {
  const place = (r: AnyRecord) =>
    r.type === 'key' || r.type === 'mark' ? r.frame : r.type === 'away' ? r.from : 'order' in r ? r.order : 0
  return place(a) - place(b) || (a.id < b.id ? -1 : 1)
}
