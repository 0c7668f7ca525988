import { defineStore } from 'pinia'
import { toast } from 'vue-sonner'
import { copied } from '#core/edits/duplicate.ts'
import type { Setting } from '#core/parameters/parameters.ts'
import { makeKey, rekeyed } from '#core/records/make.ts'
import type { AnyRecord, Member, Part } from '#core/records/types.ts'
import { makePart } from '#core/shapes/make.ts'
import { partKind, type PartKindName } from '#core/shapes/registry.ts'
import { keyedFrom, rideFrom, shapeOf, wouldCircle } from '#core/shapes/riding.ts'
import type { Template } from '#core/shapes/templates.ts'
import { useBench } from './bench.ts'
import { newId, useProject } from '../project/project.ts'

/** Who is cast and of which parts, each change one commit. */
export const useCast = defineStore('cast', () => {
  const project = useProject()
  const bench = useBench()
  const orderAfter = (list: readonly { order: number }[]) => (list.at(-1)?.order ?? 0) + 1
  const unlike = (name: string, taken: readonly { name: string }[]) => {
    let unique = name
    for (let i = 2; taken.some((one) => one.name === unique); i++) unique = `${name} ${i}`
    return unique
  }

  /** A member that is not in the cast yet, in a colour of its own. */
  function newMember({ name, kind }: Pick<Template, 'name' | 'kind'>): Member {
    const { members } = bench
    const used = new Set(members.map((one) => one.colour))
    const colour = [0, 1, 2, 3, 4, 5, 6, 7].find((c) => !used.has(c)) ?? members.length % 8
    return {
      ...{ type: 'member', id: newId(), shot: bench.shotId, name: unlike(name, members), kind, colour },
      order: orderAfter(members),
    }
  }
  /** A part that is not kept yet, of a member or of a new one like `otherwise`, and the records that make it. */
  function newPart(
    member: Member | null,
    otherwise: Pick<Template, 'name' | 'kind'> | null,
    { name, kind }: Pick<Part, 'name' | 'kind'>,
  ): { part: Part; fresh: (Member | Part)[] } {
    const owner = member ?? newMember(otherwise!)
    const parts = project.childrenOf('part', owner.id)
    const order = orderAfter(parts)
    const part = makePart({ id: newId(), member: owner.id, name: unlike(name, parts), kind, order })
    return { part, fresh: member ? [part] : [owner, part] }
  }

  /** A new cast member with its parts, the first chosen and ready to be placed; with a key when points are given. */
  function addMember(template: Omit<Template, 'label'>, points?: readonly number[]): boolean {
    const member = newMember(template)
    const parts = template.parts.map((part, i) => makePart({ id: newId(), member: member.id, order: i + 1, ...part }))
    const key = points ? [makeKey(parts[0]!.id, bench.frame, points)] : []
    const done = project.commit(`Add ${member.name}`, { put: [member, ...parts, ...key], remove: [] })
    if (done) choosePart(parts[0]!)
    return done
  }

  function addPart(member: Member, kind: PartKindName, points?: readonly number[]): boolean {
    const { part, fresh } = newPart(member, null, { name: partKind(kind).title.toLowerCase(), kind })
    const key = points ? [makeKey(part.id, bench.frame, points)] : []
    const done = project.commit(`Add a part to ${member.name}`, { put: [...fresh, ...key], remove: [] })
    if (done) choosePart(part)
    return done
  }

  function choosePart(part: Part): void {
    if (bench.partId !== part.id) {
      bench.partId = part.id
      bench.points = []
      bench.pivot = null
    }
    if (bench.tool === 'hand') return
    // What was never placed is placed next; what is there is corrected. A rod is placed on every frame.
    bench.tool =
      part.kind === 'rod' || part.kind === 'painted' || project.childrenOf('key', part.id).length === 0
        ? (part.kind as PartKindName)
        : 'choose'
  }
  /** Chooses the part after or before the chosen one, in the order of the cast. */
  function chooseNext(way: 1 | -1): void {
    const list = bench.visible
    const at = list.findIndex((one) => one.id === bench.partId)
    const next = list[(at + way + list.length) % list.length]
    if (next) choosePart(next)
  }

  function removeAll(record: Member | Part): void {
    project.commit(`Delete ${record.name}`, {
      put: [],
      remove: project.records()!.withDescendants([{ type: record.type, id: record.id }]),
    })
  }
  function change(record: Member | Part, fields: Partial<Member> | Partial<Part>, label: string, group = ''): void {
    const now = project.get(record.type, record.id)
    if (now) project.commit(label, { put: [{ ...now, ...fields } as Member | Part], remove: [] }, group)
  }
  function setPartSetting(part: Part, name: string, value: Setting): void {
    const now = project.get('part', part.id)
    if (!now) return
    const settings = { ...now.settings, [name]: value }
    change(now, { settings }, `Set ${name} of ${part.name}`, `setting ${part.id} ${name}`)
  }

  /** The member or part once more, with its keys, behind the original. */
  function duplicate(record: Member | Part): void {
    const records = project.records()!
    const refs = records.withDescendants([{ type: record.type, id: record.id }])
    const copies = copied(
      refs.map(({ type, id }) => records.get(type, id)! as AnyRecord),
      newId,
    )
    const siblings = record.type === 'member' ? bench.members : project.childrenOf('part', record.member)
    const at = siblings.findIndex((one) => one.id === record.id)
    const after = siblings[at + 1]?.order ?? record.order + 2
    const first = copies[0] as Member | Part
    copies[0] = { ...first, name: unlike(record.name, siblings), order: (record.order + after) / 2 }
    if (!project.commit(`Duplicate ${record.name}`, { put: copies, remove: [] })) return
    const part = copies.find((one) => one.type === 'part')
    if (part) choosePart(part)
  }

  /** Puts a member, or a part within its member, at another place of its list. */
  function reorder(record: Member | Part, index: number): void {
    const siblings: readonly (Member | Part)[] =
      record.type === 'member' ? bench.members : project.childrenOf('part', record.member)
    const rest = siblings.filter((one) => one.id !== record.id)
    rest.splice(index, 0, record)
    const put = rest.flatMap((one, i) => (one.order === i + 1 ? [] : [{ ...one, order: i + 1 }]))
    if (put.length) project.commit(`Move ${record.name} in the cast`, { put, remove: [] })
  }

  /** Lets the part ride on another part or on its member; '' for nothing. Its shapes stay where they are. */
  function ride(part: Part, on: string): void {
    const records = project.records()!
    const name = project.get('part', on)?.name ?? project.get('member', on)?.name ?? ''
    if (on && wouldCircle(records, part, on)) {
      toast.error(`${name} already rides on ${part.name}; they can not carry each other.`)
      return
    }
    if (on && partKind(part.kind).pixels) {
      toast.error(`${part.name} is painted where it is; what is made of pixels can not ride.`)
      return
    }
    const from = on ? rideFrom(records, part, on, bench.frame) : []
    if (on && from.length === 0) {
      toast.error(`${name} has no shape on this frame; go to a frame where it is traced, then let ${part.name} ride.`)
      return
    }
    const rider: Part = { ...part, ride: on ? { on, from } : null }
    const keys = project.childrenOf('key', part.id).map((key) => {
      const there = shapeOf(records, part, key.frame) ?? key.points
      return rekeyed(key, keyedFrom(records, rider, key.frame, there))
    })
    project.commit(on ? `${part.name} rides on ${name}` : `${part.name} rides on nothing`, {
      put: [rider, ...keys],
      remove: [],
    })
  }

  return {
    ...{
      newPart,
      addMember,
      addPart,
      choosePart,
      chooseNext,
      removeAll,
      change,
      setPartSetting,
      duplicate,
      reorder,
      ride,
    },
  }
})
