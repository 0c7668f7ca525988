import { describe, expect, it } from 'vitest'
import { makeEffect } from '../effects/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Effect, Member, Part, Shot } from '../records/types.ts'
import { makePart } from '../shapes/make.ts'
import {
  cardForMember,
  cardForShot,
  cardsReordered,
  groupedWithAbove,
  isAboutNobody,
  newCard,
  placesForNew,
} from './cards.ts'

let next = 0
const newId = () => `new${next++}`
const shot = (id: string): Shot => ({ type: 'shot', id, media: 'clip', name: id, order: 1, in: 0, out: 48, join: 0 })
const member = (id: string, name: string, more: Partial<Member> = {}): Member => ({
  ...{ type: 'member', id, shot: 's', name, kind: 'prop', colour: 0, order: 1 },
  ...more,
})
const part = (id: string, of: string, more: Partial<Part> = {}): Part =>
  makePart({ id, member: of, name: id, kind: 'rod', order: 1, ...more })

describe('cards', () => {
  const cast: AnyRecord[] = [
    ...[shot('s'), shot('t')],
    ...[
      member('a', 'Keeper', { kind: 'performer' }),
      member('b', 'Pole', { order: 2 }),
      member('c', 'Oar', { order: 3 }),
    ],
    ...[part('body', 'a', { kind: 'oval' }), part('pole', 'b'), part('oar', 'c')],
  ]
  const reachable = cast.filter((one): one is Member => one.type === 'member')
  const card = (id: string, order: number, more: Partial<Effect> = {}): Effect =>
    makeEffect({ id, shot: 's', kind: 'blade', order, ...more })

  it('a new one rides on the first who can carry it and carries none yet', () => {
    const records = new Records(cast)
    const first = newCard(records, 's', 'blade', reachable, '', newId)
    expect([first.target, first.order]).toEqual(['b', 1])
    records.apply({ put: [first], remove: [] })
    expect(newCard(records, 's', 'blade', reachable, '', newId)).toMatchObject({ target: 'c', order: 2 })
    // What works alone rides on nobody; what comes from somebody comes from the first of the cast.
    expect(newCard(records, 's', 'lens', reachable, '', newId).target).toBe('')
    expect(newCard(records, 's', 'glow', reachable, '', newId).region.of).toEqual(['a'])
  })
  it('a new one begins with who is chosen, where that one can carry it and has none of its kind yet', () => {
    const records = new Records([...cast, card('e', 1, { kind: 'castLight', target: 'c' })])
    const made = newCard(records, 's', 'blade', reachable, 'c', newId)
    expect(made.target).toBe('c')
    records.apply({ put: [made], remove: [] })
    expect(newCard(records, 's', 'blade', reachable, 'c', newId).target).toBe('b')
    // The keeper has no rod.
    expect(newCard(records, 's', 'blade', reachable, 'a', newId).target).toBe('b')
    expect(newCard(records, 's', 'glow', reachable, 'b', newId).region.of).toEqual(['b'])
  })
  it('a new one that comes where two meet begins with two props', () => {
    const meets = (chosen: string, among = reachable) => {
      const { target, settings } = newCard(new Records(cast), 's', 'flash', among, chosen, newId)
      return [target, settings['other']]
    }
    expect(meets('')).toEqual(['b', 'c'])
    expect(meets('c')).toEqual(['c', 'b'])
    expect(meets('a')).toEqual(['a', 'b'])
    // Whom it would meet is not there: then it names nobody.
    expect(meets('', [reachable[1]!])).toEqual(['b', ''])
  })
  it('a new one is about what its kind is usually about, where there is a performer', () => {
    const records = new Records(cast)
    const region = (kind: string, among = reachable, chosen = '') =>
      newCard(records, 's', kind, among, chosen, newId).region
    expect(region('soften')).toMatchObject({ of: ['a'], side: 'outside' })
    expect(region('grade')).toMatchObject({ of: ['a'], side: 'inside' })
    expect(region('ripple').of).toEqual([])
    // Nobody of the cast is a performer.
    expect(region('soften', reachable.slice(1)).of).toEqual([])
    const two = [...reachable, member('d', 'Guest', { kind: 'performer', order: 4 }) as Member]
    expect(region('soften', two, 'd').of).toEqual(['d'])
  })
  it('new ones come before the next shot takes over, in their order', () => {
    const records = new Records([...cast, card('x', 2), card('over', 3, { kind: 'takeOver', target: '' })])
    const [one, two] = placesForNew(records, 's', 2)
    expect([2 < one!, one! < two!, two! < 3]).toEqual([true, true, true])
    expect(
      placesForNew(new Records([...cast, card('over', 3, { kind: 'takeOver', target: '' })]), 's', 1)[0],
    ).toBeLessThan(3)
    expect(placesForNew(new Records([...cast, card('x', 2)]), 's', 2)).toEqual([3, 4])
  })
  it('for a shot where nobody is like them does nothing there: it does not come to be about the whole picture', () => {
    const there = [shot('t'), member('pond', 'Pond', { shot: 't', kind: 'performer' })]
    const own = card('e', 1, {
      ...{ kind: 'grade', target: '', region: { of: ['b'], side: 'outside', grow: 0, soften: 0 } },
    })
    const records = new Records([...cast, ...there, own])
    const copy = cardForShot(records, own, shot('t'), newId)
    expect(copy.region.of).toEqual(['b'])
    expect(isAboutNobody(records, copy, [there[1] as Member])).toBe(true)
    expect(isAboutNobody(records, own, reachable)).toBe(false)
    const riding = cardForShot(records, card('f', 1, { target: 'b' }), shot('t'), newId)
    expect([riding.target, isAboutNobody(records, riding, [there[1] as Member])]).toEqual(['b', true])
    // A part stands for its member.
    expect(isAboutNobody(records, { ...own, region: { ...own.region, of: ['pole'] } }, reachable)).toBe(false)
  })
  it('for another member names that one wherever it named the first, and nobody else', () => {
    const own = card('e', 1, {
      target: 'b',
      behind: ['a', 'b'],
      region: { of: ['b'], side: 'inside', grow: 0, soften: 0 },
    })
    const copy = cardForMember(new Records([...cast, own]), own, reachable[2]!, newId)
    expect(copy).toMatchObject({ target: 'c', behind: ['a', 'c'], region: { of: ['c'] }, order: 2 })
  })
  it('for another shot names who has the same name there, else who is of the same kind, else nobody', () => {
    const there: AnyRecord[] = [
      ...[member('pole2', 'Pole', { shot: 't' }), member('heron', 'Heron', { shot: 't', kind: 'performer', order: 2 })],
      part('shaft2', 'pole2', { name: 'pole' }),
    ]
    const own = card('e', 1, { target: 'b', behind: ['a', 'gone', 'pole'] })
    const copy = cardForShot(new Records([...cast, ...there, own]), own, shot('t'), newId)
    expect(copy).toMatchObject({ shot: 't', target: 'pole2', behind: ['heron', 'shaft2'], order: 1 })
  })
  it('group with the one above: into its group, or into a new one of a name that is free', () => {
    const cards = [card('x', 1, { group: 'Group 1', groupOpacity: 0.5 }), card('y', 2), card('z', 3), card('w', 4)]
    const records = new Records(cards)
    expect(groupedWithAbove(records, cards[0]!)).toEqual([])
    expect(groupedWithAbove(records, cards[1]!).map((one) => [one.group, one.groupOpacity])).toEqual([
      ['Group 1', 0.5],
      ['Group 1', 0.5],
    ])
    expect(groupedWithAbove(records, cards[3]!).map((one) => one.group)).toEqual(['Group 2', 'Group 2'])
  })
  it('in a new order exchange their places and nothing else', () => {
    const cards = [card('x', 1), card('y', 2.5), card('z', 4)]
    const put = cardsReordered(new Records(cards), [cards[2]!, cards[0]!, cards[1]!])
    expect(put.map((one) => [one.id, one.order])).toEqual([
      ['z', 1],
      ['x', 2.5],
      ['y', 4],
    ])
  })
})
