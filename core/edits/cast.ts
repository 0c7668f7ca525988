import { say } from '../say.ts'
import type { Diff } from '../records/diff.ts'
import { rekeyed } from '../records/make.ts'
import type { Records } from '../records/records.ts'
import { type AnyRecord, keyId, type Member, type Part } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import { partKind } from '../shapes/registry.ts'
import { keyedFrom, rideFrom, shapeOf, wouldCircle } from '../shapes/riding.ts'
import type { Template } from '../shapes/templates.ts'
import { duplicate } from './duplicate.ts'

/** Cast colours that there are. */
const colours = 8

const orderAfter = (list: readonly { order: number }[]) => (list.at(-1)?.order ?? 0) + 1

/** The name, with a number behind it where it is taken. */
export function uniqueName(name: string, taken: readonly { name: string }[]): string {
  let unique = name
  for (let i = 2; taken.some((one) => one.name === unique); i++) unique = `${name} ${i}`
  return unique
}

/** A member that is not in the cast of the shot yet, in a colour of its own. */
export function newMember(
  records: Records,
  shot: string,
  { name, kind }: Pick<Template, 'name' | 'kind'>,
  newId: () => string,
): Member {
  const members = records.childrenOf('member', shot)
  const used = new Set(members.map((one) => one.colour))
  const colour = Array.from({ length: colours }, (_, i) => i).find((c) => !used.has(c)) ?? members.length % colours
  return {
    ...{ type: 'member', id: newId(), shot, name: uniqueName(name, members), kind, colour },
    order: orderAfter(members),
  }
}

/** A member of a template with its parts, the member first. */
export function memberOf(
  records: Records,
  shot: string,
  template: Omit<Template, 'label'>,
  newId: () => string,
): [Member, ...Part[]] {
  const member = newMember(records, shot, template, newId)
  const parts = template.parts.map((part, i) => makePart({ id: newId(), member: member.id, order: i + 1, ...part }))
  return [member, ...parts]
}

/** A part of a member that is not kept yet. */
export function newPart(
  records: Records,
  member: Member,
  { name, kind }: Pick<Part, 'name' | 'kind'>,
  newId: () => string,
): Part {
  const parts = records.childrenOf('part', member.id)
  return makePart({ id: newId(), member: member.id, name: uniqueName(name, parts), kind, order: orderAfter(parts) })
}

const siblingsOf = (records: Records, record: Member | Part): readonly (Member | Part)[] =>
  record.type === 'member' ? records.childrenOf('member', record.shot) : records.childrenOf('part', record.member)

/** The member or part once more, with its keys, behind the original; the copy of the record itself comes first. */
export function duplicated(records: Records, record: Member | Part, newId: () => string): AnyRecord[] {
  const refs = records.withDescendants([{ type: record.type, id: record.id }])
  const [first, ...rest] = duplicate(
    refs.map(({ type, id }) => records.get(type, id)! as AnyRecord),
    newId,
  )
  const siblings = siblingsOf(records, record)
  const at = siblings.findIndex((one) => one.id === record.id)
  const after = siblings[at + 1]?.order ?? record.order + 2
  const own = first as Member | Part
  return [{ ...own, name: uniqueName(record.name, siblings), order: (record.order + after) / 2 }, ...rest]
}

/** A member, or a part within its member, at another place of its list: those whose order changes. */
export function reordered(records: Records, record: Member | Part, index: number): (Member | Part)[] {
  const rest = siblingsOf(records, record).filter((one) => one.id !== record.id)
  rest.splice(index, 0, record)
  return rest.flatMap((one, i) => (one.order === i + 1 ? [] : [{ ...one, order: i + 1 }]))
}

/**
 * A part goes to another member of its shot, to a place of that one's list (the end where none is told). Nothing moves in
 * the picture: who rides, rides on the same parts.
 */
export function movedTo(records: Records, part: Part, member: Member, index = Infinity): Part[] {
  const there = records.childrenOf('part', member.id)
  const moved: Part = { ...part, member: member.id, name: uniqueName(part.name, there) }
  return [...there.slice(0, index), moved, ...there.slice(index)].flatMap((one, i) =>
    one === moved || one.order !== i + 1 ? [{ ...one, order: i + 1 }] : [],
  )
}

/** A part once more, with its keys, as a part of another member; the copy comes first. */
export function copiedTo(records: Records, part: Part, member: Member, newId: () => string): [Part, ...AnyRecord[]] {
  const there = records.childrenOf('part', member.id)
  const [copy, ...rest] = duplicated(records, part, newId) as [Part, ...AnyRecord[]]
  return [{ ...copy, member: member.id, name: uniqueName(part.name, there), order: orderAfter(there) }, ...rest]
}

/**
 * All keys of a part, and where it is away, onto another one of its kind in place of that one's own; shapes stand where they
 * stand, whatever each rides on.
 */
export function keysOnto(records: Records, from: Part, to: Part, newId: () => string): Diff {
  const keys = records.childrenOf('key', from.id).map((key) => ({
    ...rekeyed(key, keyedFrom(records, to, key.frame, shapeOf(records, from, key.frame) ?? key.points)),
    ...{ id: keyId(to.id, key.frame), part: to.id },
  }))
  const aways = records.childrenOf('away', from.id).map((one) => ({ ...one, id: newId(), part: to.id }))
  const fresh = new Set([...keys, ...aways].map((one) => one.id))
  const old = (['key', 'away'] as const).flatMap((type) =>
    records.childrenOf(type, to.id).flatMap(({ id }) => (fresh.has(id) ? [] : [{ type, id }])),
  )
  return { put: [...keys, ...aways], remove: old }
}

/**
 * The part rides on another part or on its member from a frame on (`on` '' for nothing); its shapes stay where they are in
 * the picture. A sentence where that can not be.
 */
export function riding(records: Records, part: Part, on: string, frame: number): Diff | string {
  const name = (records.get('part', on) ?? records.get('member', on))?.name ?? ''
  if (on && wouldCircle(records, part, on))
    return say`${name} already rides on ${part.name}; they can not carry each other.`
  if (on && partKind(part.kind).pixels)
    return say`${part.name} is painted where it is; what is made of pixels can not ride.`
  const from = on ? rideFrom(records, part, on, frame) : []
  if (on && from.length === 0)
    return say`${name} has no shape on this frame; go to a frame where it is traced, then let ${part.name} ride.`
  const rider: Part = { ...part, ride: on ? { on, from } : null }
  const keys = records.childrenOf('key', part.id).map((key) => {
    const there = shapeOf(records, part, key.frame) ?? key.points
    return rekeyed(key, keyedFrom(records, rider, key.frame, there))
  })
  return { put: [rider, ...keys], remove: [] }
}
