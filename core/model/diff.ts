import {
  checkRecord,
  limits,
  parentField,
  recordTypes,
  type AnyRecord,
  type RecordType,
  type RecordTypes,
} from './records.ts'

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

const parentOf = (record: AnyRecord): string | null => {
  const parent = parentField[record.type]
  return parent ? (record as unknown as Record<string, string>)[parent.field]! : null
}

/**
 * The records of one project with an index from parent to children. Applying a diff costs only what the diff
 * touches, however many records there are.
 */
export class Records {
  private readonly maps: { [T in RecordType]: Map<string, RecordTypes[T]> } = {
    project: new Map(),
    media: new Map(),
    shot: new Map(),
    member: new Map(),
    part: new Map(),
    key: new Map(),
    stroke: new Map(),
    away: new Map(),
    mark: new Map(),
    effect: new Map(),
    look: new Map(),
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

/** Checks the form of a diff from outside. Throws an Error with a sentence. */
export function checkDiff(diff: unknown): asserts diff is Diff {
  const { put, remove } = (diff ?? {}) as Partial<Diff>
  if (!Array.isArray(put) || !Array.isArray(remove)) throw new Error('A change needs the lists "put" and "remove".')
  if (put.length + remove.length > limits.diffRecords)
    throw new Error(`A change holds at most ${limits.diffRecords} records; make it in smaller steps.`)
  put.forEach(checkRecord)
  for (const ref of remove as Partial<RecordRef>[])
    if (!ref || typeof ref.id !== 'string' || !recordTypes.includes(ref.type as RecordType))
      throw new Error('Every removal needs a type and an id.')
}

/** Records that both diffs touch, or that one removes while the other puts something on it: what can clash. */
export function clashes(mine: Diff, theirs: Diff): RecordRef[] {
  const touched = new Set([...theirs.put, ...theirs.remove].map(refKey))
  const removed = new Set(theirs.remove.map(refKey))
  const theirParents = new Set(theirs.put.map((r) => `${parentField[r.type]?.type}:${parentOf(r)}`))
  const same = (record: AnyRecord) =>
    theirs.put.some((r) => refKey(r) === refKey(record) && JSON.stringify(r) === JSON.stringify(record))
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
