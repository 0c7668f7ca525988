import { defineStore } from 'pinia'
import { toast } from 'vue-sonner'
import {
  copiedTo,
  duplicated,
  keysOnto,
  memberOf,
  movedTo,
  newMember,
  newPart,
  reordered,
  riding,
} from '#core/edits/cast.ts'
import type { Setting } from '#core/parameters/parameters.ts'
import type { DrawnShape } from '#core/incoming/svg.ts'
import { makeKey } from '#core/records/make.ts'
import type { AnyRecord, Member, Part } from '#core/records/types.ts'
import { partKind, type PartKindName } from '#core/shapes/registry.ts'
import type { Template } from '#core/shapes/templates.ts'
import { amid, say } from '#core/say.ts'
import { newId, useProject } from '../project/project.ts'
import { useOpenShot } from './openShot.ts'
import { usePlayback } from './playback.ts'
import { useSelection } from './selection.ts'

/** Who is cast and of which parts, each change one commit. */
export const useCast = defineStore('cast', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const selected = useSelection()
  const records = () => project.records()!

  /** A part that is not kept yet, of a member or of a new one like `otherwise`, and the records that make it. */
  function freshPart(
    member: Member | null,
    otherwise: Pick<Template, 'name' | 'kind'>,
    like: Pick<Part, 'name' | 'kind'>,
  ): { part: Part; fresh: (Member | Part)[] } {
    const owner = member ?? newMember(records(), opened.shotId, otherwise, newId)
    const part = newPart(records(), owner, like, newId)
    return { part, fresh: member ? [part] : [owner, part] }
  }

  /** A new cast member with its parts, the first chosen and ready to be placed; with a key when points are given. */
  function addMember(template: Omit<Template, 'label'>, points?: readonly number[]): boolean {
    const [member, ...parts] = memberOf(records(), opened.shotId, template, newId)
    const key = points ? [makeKey(parts[0]!.id, playback.frame, points)] : []
    const done = project.commit(say`Add ${member.name}`, { put: [member, ...parts, ...key], remove: [] })
    if (done) selected.choosePart(parts[0]!)
    return done
  }

  /** A new cast member of shapes that came in, with a key each on this frame. */
  function addDrawn(name: string, shapes: readonly DrawnShape[]): boolean {
    const template = { name, kind: 'other' as const, parts: shapes.map((one) => ({ name: one.name, kind: one.kind })) }
    const [member, ...parts] = memberOf(records(), opened.shotId, template, newId)
    const drawn = parts.map((part, i) => ({ ...part, role: shapes[i]!.role }))
    const keys = drawn.map((part, i) => makeKey(part.id, playback.frame, shapes[i]!.points))
    const done = project.commit(say`Add ${member.name}`, { put: [member, ...drawn, ...keys], remove: [] })
    if (done) selected.choosePart(drawn[0]!)
    return done
  }

  /** Members with all that is theirs, as they came in; gives how many parts they have. */
  function addShapes(put: AnyRecord[]): number {
    const parts = put.filter((one): one is Part => one.type === 'part')
    const first = put.find((one) => one.type === 'member')
    if (!project.commit(say`Bring in ${first?.type === 'member' ? first.name : say`shapes`}`, { put, remove: [] }))
      return 0
    if (parts[0]) selected.choosePart(parts[0])
    return parts.length
  }

  function addPart(member: Member, kind: PartKindName, points?: readonly number[]): boolean {
    const part = newPart(records(), member, { name: amid(partKind(kind).title), kind }, newId)
    const key = points ? [makeKey(part.id, playback.frame, points)] : []
    const done = project.commit(say`Add a part to ${member.name}`, { put: [part, ...key], remove: [] })
    if (done) selected.choosePart(part)
    return done
  }

  function removeAll(record: Member | Part): void {
    const all = records().withDescendants([{ type: record.type, id: record.id }])
    project.remove(say`Delete ${record.name}`, record.name, all)
  }
  function change(record: Member | Part, fields: Partial<Member> | Partial<Part>, label: string, group = ''): void {
    const now = project.get(record.type, record.id)
    if (now) project.commit(label, { put: [{ ...now, ...fields } as Member | Part], remove: [] }, group)
  }
  function setPartSetting(part: Part, name: string, value: Setting): void {
    const now = project.get('part', part.id)
    if (!now) return
    const settings = { ...now.settings, [name]: value }
    const label = partKind(part.kind).settings.find((one) => one.name === name)?.label ?? name
    change(now, { settings }, say`Set ${amid(label)} of ${part.name}`, `setting ${part.id} ${name}`)
  }

  /** The member or part once more, with its keys, behind the original. */
  function duplicate(record: Member | Part): void {
    const put = duplicated(records(), record, newId)
    if (!project.commit(say`Duplicate ${record.name}`, { put, remove: [] })) return
    const part = put.find((one) => one.type === 'part')
    if (part) selected.choosePart(part)
  }

  /** Puts a member, or a part within its member, at another place of its list. */
  function reorder(record: Member | Part, index: number): void {
    const put = reordered(records(), record, index)
    if (put.length) project.commit(say`Move ${record.name} in the cast`, { put, remove: [] })
  }

  /** Makes a part one of another member, at a place of that one's list or at its end. */
  function moveTo(part: Part, member: Member, index?: number): void {
    if (part.member === member.id) return
    const put = movedTo(records(), part, member, index)
    if (project.commit(say`Move ${part.name} to ${member.name}`, { put, remove: [] }))
      toast(say`${part.name} is a part of ${member.name} now.`)
  }
  function copyTo(part: Part, member: Member): void {
    const [copy, ...rest] = copiedTo(records(), part, member, newId)
    if (!project.commit(say`Copy ${part.name} to ${member.name}`, { put: [copy, ...rest], remove: [] })) return
    selected.choosePart(copy)
    toast(say`${copy.name} is a part of ${member.name} now, too.`)
  }
  /** Puts all keys of a part onto another one of its kind, in place of that one's own. */
  function keysTo(from: Part, to: Part): void {
    if (to.locked) return void toast(say`${to.name} is locked; unlock it in the cast to change it.`)
    const diff = keysOnto(records(), from, to, newId)
    if (!project.commit(say`Keys of ${from.name} onto ${to.name}`, diff)) return
    selected.choosePart(to)
    toast(say`${to.name} has the keys of ${from.name} now.`)
  }

  /** Lets the part ride on another part or on its member; '' for nothing. Its shapes stay where they are. */
  function ride(part: Part, on: string): void {
    const diff = riding(records(), part, on, playback.frame)
    if (typeof diff === 'string') return void toast.error(diff)
    const name = (project.get('part', on) ?? project.get('member', on))?.name
    project.commit(say`${part.name} rides on ${name ?? say`nothing`}`, diff)
  }

  return {
    freshPart,
    addMember,
    addDrawn,
    addShapes,
    addPart,
    removeAll,
    change,
    setPartSetting,
    duplicate,
    reorder,
    moveTo,
    copyTo,
    keysTo,
    ride,
  }
})
