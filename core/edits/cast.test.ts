import { describe, expect, it } from 'vitest'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { Member, Part } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import { shapeOf } from '../shapes/riding.ts'
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
  uniqueName,
} from './cast.ts'

let next = 0
const newId = () => `new${next++}`
const member = (id: string, name: string, more: Partial<Member> = {}): Member => ({
  ...{ type: 'member', id, shot: 's', name, kind: 'prop', colour: 0, order: 1 },
  ...more,
})
const part = (id: string, of: string, more: Partial<Part> = {}): Part =>
  makePart({ id, member: of, name: id, kind: 'rod', order: 1, ...more })

describe('a new member', () => {
  it('has a name and a colour that nobody in its shot has', () => {
    const records = new Records([member('a', 'Prop'), member('b', 'Prop 2', { colour: 1, order: 2 })])
    expect(newMember(records, 's', { name: 'Prop', kind: 'prop' }, newId)).toMatchObject({
      ...{ name: 'Prop 3', colour: 2, order: 3, shot: 's' },
    })
  })
  it('takes a colour again once all eight are there', () => {
    const all = Array.from({ length: 8 }, (_, i) => member(`m${i}`, `${i}`, { colour: i, order: i }))
    expect(newMember(new Records(all), 's', { name: 'Ninth', kind: 'prop' }, newId).colour).toBe(0)
  })
  it('comes with the parts of its template, in their order', () => {
    const template = {
      name: 'Eyes',
      kind: 'eye' as const,
      parts: ['left', 'right'].map((name) => ({ name, kind: 'outline' as const })),
    }
    const [owner, ...parts] = memberOf(new Records(), 's', template, newId)
    expect(parts.map((one) => [one.member, one.name, one.order])).toEqual([
      [owner.id, 'left', 1],
      [owner.id, 'right', 2],
    ])
  })
})

it('names are counted on from the first that is free', () => {
  expect(uniqueName('rod', [])).toBe('rod')
  expect(uniqueName('rod', [{ name: 'rod' }, { name: 'rod 3' }])).toBe('rod 2')
  expect(newPart(new Records([part('rod', 'a')]), member('a', 'A'), { name: 'rod', kind: 'oval' }, newId).name).toBe(
    'rod 2',
  )
})

describe('duplicating and ordering', () => {
  const records = new Records([
    ...[member('a', 'Keeper'), member('b', 'Oar', { order: 2 })],
    ...[part('p', 'a'), part('q', 'a', { order: 2 }), makeKey('p', 3, [0, 0, 9, 9])],
  ])
  it('a copy stands behind its original, with keys of its own', () => {
    const copies = duplicated(records, records.get('member', 'a')!, newId)
    expect(copies[0]).toMatchObject({ type: 'member', name: 'Keeper 2', order: 1.5 })
    const pole = copies.find((one) => one.type === 'part' && one.name === 'p') as Part
    expect(copies.find((one) => one.type === 'key')).toMatchObject({ part: pole.id, frame: 3 })
    const ids = new Set(copies.map((one) => one.id))
    expect([...records.values()].filter((one) => ids.has(one.id))).toEqual([])
  })
  it('what goes to another place of its list takes it, and only orders that change are written', () => {
    const three = new Records(['x', 'y', 'z'].map((id, i) => part(id, 'a', { order: i + 1 })))
    const put = reordered(three, three.get('part', 'z')!, 1)
    expect(put.map((one) => [one.id, one.order])).toEqual([
      ['z', 2],
      ['y', 3],
    ])
  })
})

describe('riding', () => {
  const boat = [0, 10].map((f) => makeKey('boat', f, [5 * f, 0, 5 * f + 40, 0]))
  const lamp = [0, 10].map((f) => makeKey('lamp', f, [10 + f, -20, 10 + f, -30]))
  const records = new Records([
    member('a', 'Ferry'),
    part('boat', 'a'),
    part('lamp', 'a', { order: 2 }),
    ...boat,
    ...lamp,
  ])
  const one = () => records.get('part', 'lamp')!
  it('begins and ends with every keyed shape where it was in the picture', () => {
    const before = [0, 10].map((f) => shapeOf(records, one(), f)!)
    const shown = () => [0, 10].map((f) => shapeOf(records, one(), f)!.map((v) => Math.round(v * 100) / 100))
    records.apply(riding(records, one(), 'boat', 4) as Exclude<ReturnType<typeof riding>, string>)
    expect(one().ride?.on).toBe('boat')
    expect(shown()).toEqual(before)
    records.apply(riding(records, one(), '', 4) as Exclude<ReturnType<typeof riding>, string>)
    expect(one().ride).toBeNull()
    expect(shown()).toEqual(before)
  })
  it('is refused with a sentence in a circle, for pixels, and where the carrier has no shape', () => {
    const rider = part('lamp', 'a', { ride: { on: 'boat', from: [{ part: 'boat', points: [0, 0, 1, 1] }] } })
    const circle = new Records([member('a', 'Ferry'), part('boat', 'a'), rider, ...boat])
    expect(riding(circle, circle.get('part', 'boat')!, 'lamp', 0)).toMatch(/lamp already rides on boat/)
    const painted = part('matte', 'a', { kind: 'painted' })
    expect(riding(new Records([...records.values(), painted]), painted, 'boat', 0)).toMatch(
      /made of pixels can not ride/,
    )
    const empty = new Records([member('a', 'Ferry'), part('boat', 'a'), part('lamp', 'a')])
    expect(riding(empty, empty.get('part', 'lamp')!, 'boat', 0)).toMatch(/has no shape on this frame/)
  })
})

describe('parts of another member', () => {
  const records = () =>
    new Records([
      ...[member('a', 'Keeper'), member('b', 'Oar', { order: 2 })],
      ...[part('p', 'a'), part('q', 'a', { order: 2 }), part('r', 'b', { name: 'p' }), part('s', 'b', { order: 2 })],
      ...[makeKey('p', 3, [0, 0, 9, 9]), makeKey('p', 5, [1, 0, 9, 9]), makeKey('r', 4, [7, 7, 8, 8])],
      { type: 'away', id: 'gone', part: 'p', from: 8, to: 9 },
    ])
  it('a part that moves keeps its keys, takes its place, and a name that nobody has there', () => {
    const all = records()
    all.apply({ put: movedTo(all, all.get('part', 'p')!, all.get('member', 'b')!, 1), remove: [] })
    expect(all.childrenOf('part', 'b').map((one) => [one.id, one.name])).toEqual([
      ['r', 'p'],
      ['p', 'p 2'],
      ['s', 's'],
    ])
    expect(all.childrenOf('part', 'a').map((one) => one.id)).toEqual(['q'])
    expect(all.childrenOf('key', 'p').map((one) => one.frame)).toEqual([3, 5])
  })
  it('who rides stays where it was, whoever moves', () => {
    const all = records()
    const put = [
      ...[0, 10].map((f) => makeKey('q', f, [5 * f, 0, 5 * f + 40, 0])),
      ...[0, 10].map((f) => makeKey('s', f, [10 + f, -20, 10 + f, -30])),
    ]
    all.apply({ put, remove: [] })
    all.apply(riding(all, all.get('part', 's')!, 'q', 0) as Exclude<ReturnType<typeof riding>, string>)
    const shown = () => [0, 4, 10].map((f) => shapeOf(all, all.get('part', 's')!, f))
    const before = shown()
    all.apply({ put: movedTo(all, all.get('part', 'q')!, all.get('member', 'b')!), remove: [] })
    expect(shown()).toEqual(before)
  })
  it('a copy comes with its keys and leaves the original alone', () => {
    const all = records()
    const put = copiedTo(all, all.get('part', 'p')!, all.get('member', 'b')!, newId)
    all.apply({ put, remove: [] })
    expect(put[0]).toMatchObject({ member: 'b', name: 'p 2', order: 3 })
    expect(all.childrenOf('key', put[0].id).map((one) => [one.frame, ...one.points])).toEqual([
      [3, 0, 0, 9, 9],
      [5, 1, 0, 9, 9],
    ])
    expect(all.childrenOf('key', 'p')).toHaveLength(2)
  })
  it('keys of a part go onto another one in place of its own, away along with them', () => {
    const all = records()
    all.apply(keysOnto(all, all.get('part', 'p')!, all.get('part', 'r')!, newId))
    expect(all.childrenOf('key', 'r').map((one) => one.frame)).toEqual([3, 5])
    expect(all.childrenOf('away', 'r').map(({ from, to }) => [from, to])).toEqual([[8, 9]])
    expect(all.childrenOf('key', 'p')).toHaveLength(2)
  })
  it('keys stand where they stood, also on what is carried', () => {
    const all = records()
    all.apply({ put: [0, 10].map((f) => makeKey('q', f, [5 * f, 0, 5 * f + 40, 0])), remove: [] })
    all.apply({ put: [0, 10].map((f) => makeKey('s', f, [10 + f, -20, 10 + f, -30])), remove: [] })
    all.apply(riding(all, all.get('part', 's')!, 'q', 0) as Exclude<ReturnType<typeof riding>, string>)
    all.apply(keysOnto(all, all.get('part', 'p')!, all.get('part', 's')!, newId))
    shapeOf(all, all.get('part', 's')!, 5)!.forEach((v, i) => expect(v).toBeCloseTo([1, 0, 9, 9][i]!, 6))
  })
})
