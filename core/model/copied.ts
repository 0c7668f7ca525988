import { keyId, parentField, type AnyRecord } from './records.ts'

/**
 * The same records under new ids from `newId`, relations among them kept; what they name outside of themselves stays
 * named. What a duplicate is made of.
 */
export function copied(records: readonly AnyRecord[], newId: () => string): AnyRecord[] {
  const fresh = new Map(records.map((record) => [record.id, newId()]))
  const of = (id: string) => fresh.get(id) ?? id
  return records.map((record) => {
    const copy = { ...record, id: of(record.id) } as AnyRecord
    const parent = parentField[record.type]
    if (parent)
      (copy as unknown as Record<string, string>)[parent.field] = of(
        (record as unknown as Record<string, string>)[parent.field]!,
      )
    if (copy.type === 'key') return { ...copy, id: keyId(copy.part, copy.frame) }
    if (copy.type === 'effect') return { ...copy, target: of(copy.target), behind: copy.behind.map(of) }
    if (copy.type === 'part' && copy.ride) {
      const from = copy.ride.from.map((carrier) => ({ ...carrier, part: of(carrier.part) }))
      return { ...copy, ride: { on: of(copy.ride.on), from } }
    }
    return copy
  })
}
