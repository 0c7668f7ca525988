import { describe, expect, it } from 'vitest'
import type { Diff, RecordRef } from '#core/records/diff.ts'
import { makeKey } from '#core/records/make.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { makePart } from '#core/shapes/make.ts'
import { binOf } from './bin.ts'

const shot = { type: 'shot', id: 's', name: 'Swing', media: 'm', order: 1, in: 0, out: 9, join: 0 } as AnyRecord
const keeper = { type: 'member', id: 'keeper', shot: 's', name: 'Keeper', kind: 'performer', order: 1, colour: 1 }
const head = makePart({ id: 'head', member: 'keeper', name: 'head', kind: 'oval', order: 1 })
const arm = makePart({ id: 'arm', member: 'keeper', name: 'arm', kind: 'outline', order: 2 })
const keys = [makeKey('head', 0, [1, 2, 3, 4]), makeKey('head', 5, [2, 2, 3, 4]), makeKey('arm', 0, [0, 0])]

/** A project, and the steps that are done in it. */
function project() {
  const records = new Records([shot, keeper as AnyRecord, head, arm, ...keys])
  const steps: { forward: Diff; back: Diff; at: number }[] = []
  const done = (forward: Diff) => void steps.push({ forward, back: records.apply(forward), at: steps.length })
  const remove = (ref: RecordRef) => done({ put: [], remove: records.withDescendants([ref]) })
  const bin = () => binOf(steps, records)
  return { records, done, remove, bin, names: () => bin().map(({ record }) => record.name) }
}

describe('the bin', () => {
  it('holds a part that was deleted with its keys, and loses it once it is back', () => {
    const { remove, done, bin, records } = project()
    expect(bin()).toEqual([])
    remove({ type: 'part', id: 'head' })
    const [only] = bin()
    expect(only).toMatchObject({ record: { name: 'head' }, at: 0 })
    expect(only!.put.map(({ id }) => id).sort()).toEqual(['head', keys[0]!.id, keys[1]!.id].sort())
    done({ put: only!.put, remove: [] })
    expect(bin()).toEqual([])
    expect(records.childrenOf('key', 'head')).toHaveLength(2)
  })
  it('brings a member back with its parts, and a part alone only while its member is there', () => {
    const { remove, done, bin, names } = project()
    remove({ type: 'part', id: 'head' })
    remove({ type: 'member', id: 'keeper' })
    expect(names()).toEqual(['Keeper'])
    expect(
      bin()[0]!
        .put.map(({ type }) => type)
        .sort(),
    ).toEqual(['key', 'member', 'part'])
    done({ put: bin()[0]!.put, remove: [] })
    expect(names()).toEqual(['head'])
  })
  it('keeps what was deleted last before what was deleted earlier, each as it was the last time', () => {
    const { remove, done, bin, names } = project()
    remove({ type: 'part', id: 'head' })
    remove({ type: 'part', id: 'arm' })
    expect(names()).toEqual(['arm', 'head'])
    done({ put: [{ ...head, name: 'hat' }], remove: [] })
    remove({ type: 'part', id: 'head' })
    expect(names()).toEqual(['hat', 'arm'])
    expect(bin()[0]!.put).toHaveLength(1)
  })
  it('holds nothing of a shot that is gone, and no key that was deleted by itself', () => {
    const { remove, bin } = project()
    remove({ type: 'key', id: keys[0]!.id })
    expect(bin()).toEqual([])
    remove({ type: 'shot', id: 's' })
    expect(bin()).toEqual([])
  })
})
