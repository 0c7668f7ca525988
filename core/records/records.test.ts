import bezier from 'bezier-easing'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { checks } from '../checks.ts'
import { duplicate, retargeted } from '../edits/duplicate.ts'
import { effectKinds } from '../effects/catalogue.ts'
import { makeEffect } from '../effects/make.ts'
import { cubicBezierEasing } from '../geometry/easing.ts'
import { curveAt, withCurveKey } from '../parameters/curves.ts'
import type { Drive } from '../parameters/drives.ts'
import { settingsSchema } from '../parameters/schemas.ts'
import { defaultsOf } from '../parameters/values.ts'
import { makePart } from '../shapes/make.ts'
import { clashes, type Diff } from './diff.ts'
import { makeKey } from './make.ts'
import { Records } from './records.ts'
import { isPlainKey, recordSchemas } from './schemas.ts'
import { type AnyRecord, type Key, keyId } from './types.ts'

const key = (part: string, frame: number, points = [0, 0, 1, 1]): Key => makeKey(part, frame, points)
const part = (id: string): AnyRecord => makePart({ id, member: 'm', name: id, kind: 'rod', order: 1 })

describe('records', () => {
  it('keep keys sorted by frame below their part and give every change back', () => {
    const records = new Records([part('a'), key('a', 9), key('a', 3)])
    const diff: Diff = { put: [key('a', 5), key('a', 9, [1, 1, 2, 2])], remove: [{ type: 'key', id: keyId('a', 3) }] }
    const before = JSON.stringify([...records.values()].sort((x, y) => (x.id < y.id ? -1 : 1)))
    const inverse = records.apply(diff)
    expect(records.childrenOf('key', 'a').map((k) => k.frame)).toEqual([5, 9])
    records.apply(inverse)
    expect(JSON.stringify([...records.values()].sort((x, y) => (x.id < y.id ? -1 : 1)))).toBe(before)
  })
  it('any sequence of changes is undone by its inverses', () => {
    const change = fc.array(fc.tuple(fc.boolean(), fc.integer({ min: 0, max: 12 }), fc.integer()), { maxLength: 6 })
    fc.assert(
      fc.property(fc.array(change, { maxLength: 12 }), (changes) => {
        const records = new Records([part('a')])
        const inverses = changes.map((list) => {
          const frames = new Set<number>()
          const once = list.filter(([, frame]) => !frames.has(frame) && frames.add(frame))
          return records.apply({
            put: once.filter(([put]) => put).map(([, frame, x]) => key('a', frame, [x, 0, 1, 1])),
            remove: once.filter(([put]) => !put).map(([, frame]) => ({ type: 'key', id: keyId('a', frame) })),
          })
        })
        inverses.reverse().forEach((inverse) => records.apply(inverse))
        expect([...records.values()]).toEqual([part('a')])
      }),
    )
  })
  it('a removal takes along what hangs on it', () => {
    const records = new Records([part('a'), part('b'), key('a', 1), key('b', 1)])
    expect(records.withDescendants([{ type: 'part', id: 'a' }])).toEqual([
      { type: 'part', id: 'a' },
      { type: 'key', id: 'a@1' },
    ])
  })
  it('that are plain keys are what the schema takes, too', () => {
    const schema = recordSchemas({ parts: {}, effects: {}, sounds: {}, moments: [] }).records.key.strict().noUnknown()
    const odd = fc.oneof(fc.constant(null), fc.double(), fc.string(), fc.integer())
    /** Mostly as it should be. */
    const mostly = <T>(good: fc.Arbitrary<T>) => fc.oneof({ weight: 8, arbitrary: good as fc.Arbitrary<unknown> }, odd)
    const fields = {
      ...{ type: mostly(fc.constant('key')), part: fc.constantFrom('p', 'p', 'p', 'p@1', '', 'x'.repeat(61)) },
      ...{
        frame: mostly(fc.integer({ min: -3, max: 3 })),
        points: mostly(fc.array(fc.integer({ min: -9, max: 9 }), { minLength: 2 })),
      },
      ...{ tween: mostly(fc.constantFrom('', 'arc', 'held')), followed: mostly(fc.double({ min: 0, max: 1 })) },
      matte: fc.constantFrom(null, null, null, undefined, 3),
    }
    const any = fc.record(fields, { requiredKeys: ['type', 'part', 'frame', 'points', 'tween'] })
    let plain = 0
    fc.assert(
      fc.property(any, odd, fc.nat(9), (fields, extra, n) => {
        const id = `${fields.part}@${String(fields.frame)}`
        const key = { ...fields, id, ...(n ? {} : { extra }) }
        if (!isPlainKey(key)) return
        plain++
        expect(schema.isValidSync(key), JSON.stringify(key)).toBe(true)
      }),
      { numRuns: 2000 },
    )
    expect(plain).toBeGreaterThan(50)
  })
  it('clash only where both sides touch the same thing differently', () => {
    const put = (...list: AnyRecord[]): Diff => ({ put: list, remove: [] })
    const remove = (type: 'key' | 'part', id: string): Diff => ({ put: [], remove: [{ type, id }] })
    expect(clashes(put(key('a', 1)), put(key('a', 2)))).toEqual([])
    expect(clashes(put(key('a', 1)), put(key('a', 1)))).toEqual([])
    expect(clashes(put(key('a', 1)), put(key('a', 1, [5, 5, 5, 5])))).toHaveLength(1)
    expect(clashes(put(key('a', 1)), remove('part', 'a'))).toHaveLength(1)
    expect(clashes(remove('part', 'a'), put(key('a', 1)))).toHaveLength(1)
    expect(clashes(remove('key', 'a@1'), remove('key', 'a@1'))).toEqual([])
  })
  it('refuses what does not fit with a sentence', () => {
    expect(() => checks.record(key('a', 1))).not.toThrow()
    expect(() => checks.record({ ...key('a', 1), id: 'other' })).toThrow(/made of its part and frame/)
    expect(() => checks.record(key('a', 1, [0, 0, Number.NaN, 1]))).toThrow(/coordinate must be a number/)
    expect(() => checks.record(key('a', 1, [0, 0, 1e9, 1]))).toThrow(/too far outside/)
    expect(() => checks.record({ ...key('a', 1), extra: 1 })).toThrow(/does not belong/)
    expect(() => checks.record({ type: 'spoon' })).toThrow(/no record type called "spoon"/)
    expect(() => checks.record({ ...part('a'), settings: { reach: -4 } })).toThrow(/Reach must be at least 0/)
    expect(() => checks.diff({ put: 'x' })).toThrow(/lists "put" and "remove"/)
    expect(() => checks.diff({ put: [], remove: [{ type: 'spoon', id: 'x' }] })).toThrow(/type and an id/)
  })
})

describe('settings', () => {
  const { parameters } = effectKinds.blade
  const schema = settingsSchema(parameters)
  it('the defaults fit their own description', () => {
    expect(schema.isValidSync(defaultsOf(parameters), { strict: true })).toBe(true)
  })
  it('name what is wrong', () => {
    const refusal = (settings: object) => {
      try {
        schema.validateSync({ ...defaultsOf(parameters), ...settings }, { strict: true })
        return ''
      } catch (error) {
        return (error as Error).message
      }
    }
    expect(refusal({ inside: 'red' })).toMatch(/Inside must be a colour written as #rrggbb/)
    expect(refusal({ coreWidth: 1e6 })).toMatch(/Core width must be at most 300/)
    expect(refusal({ strength: { keys: [] } })).toMatch(/Strength needs at least one key/)
    expect(refusal({ spoon: 1 })).toMatch(/no setting called spoon/)
    expect(refusal({ halos: Array.from({ length: 20 }, () => ({ feather: 3 })) })).toMatch(/at most 12 rows/)
  })
  it('curves run straight, eased (CSS ease-in-out) or held, and stay at their ends', () => {
    const curve = withCurveKey(
      withCurveKey({ keys: [{ frame: 0, value: 0, ease: 'eased' }] }, { frame: 20, value: 5, ease: 'held' }),
      { frame: 10, value: 1, ease: 'straight' },
    )
    expect(curveAt(curve, -3)).toBe(0)
    expect(curveAt(curve, 2.5)).toBeCloseTo(bezier(0.42, 0, 0.58, 1)(0.25), 5)
    expect(curveAt(curve, 15)).toBe(3)
    expect(curveAt(curve, 99)).toBe(5)
  })
})

describe('easing (CSS Easing Level 1)', () => {
  it('agrees with bezier-easing, overshoot included', () => {
    for (const [a, b, c, d] of [
      [0.25, 0.1, 0.25, 1],
      [0.42, 0, 1, 1],
      [0.2, -0.8, 0.4, 1.6],
    ] as const)
      for (let x = 0; x <= 1; x += 0.05) expect(cubicBezierEasing(a, b, c, d, x)).toBeCloseTo(bezier(a, b, c, d)(x), 5)
  })
})

describe('parts, keys and marks', () => {
  const rider = (ride: unknown) => ({ ...part('b'), ride }) as AnyRecord
  it('take roles, styles, riding and notes, and refuse what does not fit with a sentence', () => {
    expect(() =>
      checks.record({ ...part('a'), role: 'limit', hidden: true, locked: true, tween: 'held' }),
    ).not.toThrow()
    expect(() => checks.record({ ...part('a'), role: 'melt' })).toThrow(/adds to, cuts from or limits the matte/)
    expect(() => checks.record({ ...key('a', 1), tween: 'bouncy' })).toThrow(/straight, arc, eased or held/)
    expect(() => checks.record({ ...key('a', 1), tween: 'eased' })).not.toThrow()
    expect(() => checks.record(rider({ on: 'a', from: [{ part: 'a', points: [0, 0, 5, 5] }] }))).not.toThrow()
    expect(() => checks.record(rider({ on: 'a', from: [] }))).toThrow()
    const mark = { type: 'mark', id: 'n', shot: 's', frame: 4, note: 'the turn' }
    expect(() => checks.record(mark)).not.toThrow()
    expect(() => checks.record({ ...mark, note: 'x'.repeat(401) })).toThrow(/under 400 characters/)
  })
  it('a shape of too many points says how many it may have', () => {
    expect(() => checks.record(key('a', 1, Array(3002).fill(1)))).toThrow(
      /at most 375 points; trace it in several parts/,
    )
  })
  it('copies keep their relations among each other and name the rest as before', () => {
    let next = 0
    const member: AnyRecord = {
      type: 'member',
      id: 'm',
      shot: 's',
      name: 'Keeper',
      kind: 'performer',
      colour: 0,
      order: 1,
    }
    const outside = { on: 'z', from: [{ part: 'z', points: [0, 0, 1, 1] }] }
    const within = { on: 'a', from: [{ part: 'a', points: [0, 0, 1, 1] }] }
    const copies = duplicate(
      [member, part('a'), rider(within), { ...part('c'), ride: outside } as AnyRecord, key('a', 7)],
      () => `n${next++}`,
    )
    expect(copies).toMatchObject([
      { id: 'n0', shot: 's' },
      { id: 'n1', member: 'n0' },
      { id: 'n2', member: 'n0', ride: { on: 'n1', from: [{ part: 'n1' }] } },
      { id: 'n3', ride: outside },
      { id: 'n1@7', part: 'n1', frame: 7 },
    ])
  })
  it('of a whole project insert the copied clip and hear its sound; for another member the clips stay', () => {
    const loud: Drive = {
      ...{ signal: 'loudness', of: 'clip', with: '', from: [0, 1], to: [0, 1], bend: [0, 0, 1, 1], smooth: 0, lag: 0 },
    }
    const insert = makeEffect({
      id: 'e',
      shot: 's',
      order: 1,
      kind: 'insert',
      opacity: loud,
      target: 'm',
      settings: { clip: 'clip' },
    })
    const clip = { type: 'media', id: 'clip' } as AnyRecord
    const [media, effect] = duplicate([clip, insert], () => 'new') as [AnyRecord, typeof insert]
    expect(media.id).toBe('new')
    expect(effect).toMatchObject({ settings: { clip: 'new' }, opacity: { of: 'new' } })
    expect(retargeted(insert, (id) => (id === 'm' ? 'other' : ''))).toMatchObject({
      ...{ target: 'other', settings: { clip: 'clip' }, opacity: { of: 'clip' } },
    })
  })
})
