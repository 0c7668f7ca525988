import { defineStore } from 'pinia'
import {
  keyId,
  type Away,
  type Key,
  type Member,
  type MemberKind,
  type Part,
  type PartKindName,
} from '#core/model/records.ts'
import { defaultsOf, type Setting } from '#core/model/parameters.ts'
import { partKinds } from '#core/shapes/registry.ts'
import { ghostAt, isAway, withAway } from '#core/shapes/track.ts'
import type { PartKind } from '#core/shapes/kind.ts'
import { useBench } from './bench.ts'
import { newId, useProject } from './project.ts'

export const kindOf = (part: Pick<Part, 'kind'>): PartKind => partKinds[part.kind]

/** What a hand does on the bench, each one commit. Every edit of a shape at a frame is a key at that frame. */
export const useTracing = defineStore('tracing', () => {
  const project = useProject()
  const bench = useBench()

  const keyRecord = (part: string, frame: number, points: readonly number[]): Key => ({
    type: 'key',
    id: keyId(part, frame),
    part,
    frame,
    points: points.map((v) => Math.round(v * 1000) / 1000),
  })

  /** The diff that writes a key; a part that was away on this frame is there again. */
  function keyDiff(part: Part, frame: number, points: readonly number[]) {
    const diff = awayDiff(part, frame, frame, false)
    diff.put.push(keyRecord(part.id, frame, points))
    return diff
  }

  function writeKey(part: Part, points: readonly number[], frame = bench.frame, group = ''): boolean {
    return project.commit(`Key of ${part.name} at ${frame}`, keyDiff(part, frame, points), group)
  }

  /** The shape to show and to edit on a frame: what is there, or else the ghost. */
  function shapeOrGhost(part: Part, frame = bench.frame): readonly number[] | null {
    return bench.shape(part, frame) ?? ghostAt(bench.track(part), frame)
  }

  /** Keeps the shape or the ghost of this frame as a key and steps on. */
  function accept(): void {
    const { part } = bench
    if (!part) return
    const points = shapeOrGhost(part)
    if (!points) return
    if (bench.cell(part) !== 'key' || isAway(bench.track(part), bench.frame)) if (!writeKey(part, points)) return
    bench.stepBy(bench.stepSize)
  }

  function removeKey(part: Part, frame = bench.frame): void {
    if (!project.get('key', keyId(part.id, frame))) return
    project.commit(`Remove the key of ${part.name} at ${frame}`, {
      put: [],
      remove: [{ type: 'key', id: keyId(part.id, frame) }],
    })
  }

  /** Moves a key to another frame; one that is there already is replaced, and undo brings it back. */
  function moveKey(part: Part, from: number, to: number): void {
    const key = project.get('key', keyId(part.id, from))
    const target = Math.max(0, Math.min(bench.length - 1, to))
    if (!key || target === from) return
    project.commit(`Move a key of ${part.name} from ${from} to ${target}`, {
      put: [keyRecord(part.id, target, key.points)],
      remove: [{ type: 'key', id: key.id }],
    })
  }

  function nudge(dx: number, dy: number): void {
    const { part } = bench
    const points = part && shapeOrGhost(part)
    if (!part || !points) return
    const { point } = bench
    const moved =
      point === null
        ? points.map((v, i) => v + (i % 2 ? dy : dx))
        : kindOf(part).moved(points, point, points[2 * point]! + dx, points[2 * point + 1]! + dy)
    writeKey(part, moved, bench.frame, `nudge ${part.id} ${bench.frame}`)
  }

  function awayDiff(part: Part, from: number, to: number, away: boolean) {
    const before = project.childrenOf('away', part.id)
    const after = withAway(before, from, to, away)
    const same = (a: { from: number; to: number }) => (b: { from: number; to: number }) =>
      a.from === b.from && a.to === b.to
    const put: (Away | Key)[] = after
      .filter((range) => !before.some(same(range)))
      .map((range) => ({ type: 'away', id: newId(), part: part.id, ...range }))
    const remove: { type: 'away' | 'key'; id: string }[] = before
      .filter((range) => !after.some(same(range)))
      .map(({ id }) => ({ type: 'away', id }))
    return { put, remove }
  }

  function setAway(part: Part, from: number, to: number, away: boolean): void {
    project.commit(
      `${part.name} is ${away ? 'away' : 'there'} ${from === to ? `at ${from}` : `from ${from} to ${to}`}`,
      awayDiff(part, from, to, away),
    )
  }

  const orderAfter = (list: readonly { order: number }[]) => (list.at(-1)?.order ?? 0) + 1
  const newPart = (member: string, kind: PartKindName, name: string, order: number): Part => ({
    type: 'part',
    id: newId(),
    member,
    name,
    kind,
    order,
    tween: 'arc',
    hold: partKinds[kind].hold,
    settings: defaultsOf(partKinds[kind].settings),
  })

  /** A new cast member with its first part, chosen and ready to be placed; with a key when points are given. */
  function addMember(
    kind: MemberKind,
    name: string,
    partKind: PartKindName,
    partName: string,
    points?: readonly number[],
  ): boolean {
    const members = bench.members
    const taken = new Set(members.map((member) => member.name))
    let unique = name
    for (let i = 2; taken.has(unique); i++) unique = `${name} ${i}`
    const used = new Set(members.map((one) => one.colour))
    const colour = [0, 1, 2, 3, 4, 5, 6, 7].find((c) => !used.has(c)) ?? members.length % 8
    const member: Member = {
      type: 'member',
      id: newId(),
      shot: bench.shotId,
      name: unique,
      kind,
      colour,
      order: orderAfter(members),
    }
    const part = newPart(member.id, partKind, partName, 1)
    const key = points ? [keyRecord(part.id, bench.frame, points)] : []
    const done = project.commit(`Add ${unique}`, { put: [member, part, ...key], remove: [] })
    if (done) choosePart(part)
    return done
  }

  function addPart(member: Member, kind: PartKindName): void {
    const parts = project.childrenOf('part', member.id)
    const part = newPart(
      member.id,
      kind,
      `${partKinds[kind].title.toLowerCase()} ${parts.length + 1}`,
      orderAfter(parts),
    )
    if (project.commit(`Add a part to ${member.name}`, { put: [part], remove: [] })) choosePart(part)
  }

  function choosePart(part: Part): void {
    bench.partId = part.id
    bench.point = null
    if (bench.tool !== 'hand') bench.tool = part.kind === 'outline' ? 'choose' : part.kind
  }

  function removeMember(member: Member): void {
    project.commit(`Delete ${member.name}`, {
      put: [],
      remove: project.records()!.withDescendants([{ type: 'member', id: member.id }]),
    })
  }
  function removePart(part: Part): void {
    project.commit(`Delete ${part.name}`, {
      put: [],
      remove: project.records()!.withDescendants([{ type: 'part', id: part.id }]),
    })
  }
  function change(record: Member | Part, fields: Partial<Member> | Partial<Part>, label: string, group = ''): void {
    project.commit(label, { put: [{ ...record, ...fields } as Member | Part], remove: [] }, group)
  }
  function setPartSetting(part: Part, name: string, value: Setting): void {
    change(
      part,
      { settings: { ...part.settings, [name]: value } },
      `Set ${name} of ${part.name}`,
      `setting ${part.id} ${name}`,
    )
  }

  return {
    ...{ keyDiff, writeKey, shapeOrGhost, accept, removeKey, moveKey, nudge, setAway, addMember, addPart, choosePart },
    ...{ removeMember, removePart, change, setPartSetting },
  }
})
