import { describe, expect, it } from 'vitest'
import { makeEffect } from '../effects/make.ts'
import { isCurve } from '../parameters/parameters.ts'
import { composeDiffs, type Diff } from '../records/diff.ts'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import { type AnyRecord, type Key, keyId, type Shot } from '../records/types.ts'
import { makePaintedKey, makePart } from '../shapes/make.ts'
import { recutShot } from './recutShot.ts'

const shot: Shot = { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 10, out: 60, join: 0 }
const key = (frame: number): Key => makeKey('p', frame, [frame, 0, 1, 1])
const lit = { keys: [{ frame: 3, value: 0, ease: 'eased' as const }] }
const effect = makeEffect({ id: 'e', shot: 's', kind: 'blade', order: 1, target: 'c', settings: { lit } })
const painted = makePaintedKey('q', 8, { x: 4, y: 5, width: 2, height: 1, data: Uint8Array.of(9, 255) }, null)
const all: AnyRecord[] = [
  shot,
  { type: 'member', id: 'c', shot: 's', name: 'Prop', kind: 'prop', colour: 0, order: 1 },
  makePart({ id: 'p', member: 'c', name: 'shaft', kind: 'rod', order: 1 }),
  ...[key(0), key(5), key(6), key(40)],
  { type: 'away', id: 'a', part: 'p', from: 20, to: 22 },
  makePart({ id: 'q', member: 'c', name: 'matte', kind: 'painted', order: 2 }),
  painted,
  { type: 'stroke', id: 'w', part: 'q', frame: 8, order: 1, wanted: true, size: 9, points: [1, 2] },
  { type: 'mark', id: 'n', shot: 's', frame: 30, note: 'the turn' },
  effect,
]

let made = 0
const newId = () => `new${made++}`

describe('cutting a shot anew', () => {
  it('keeps keys, away ranges and curves on their picture', () => {
    const records = new Records(all)
    records.apply(recutShot(records, shot, 15, 50, newId))
    expect(records.get('shot', 's')).toMatchObject({ in: 15, out: 50 })
    // The key's first number still names the frame it was made on.
    expect(records.childrenOf('key', 'p').map((one) => one.frame - one.points[0]!)).toEqual([-5, -5, -5, -5])
    expect(records.get('away', 'a')).toMatchObject({ from: 15, to: 17 })
    expect(records.get('mark', 'n')).toMatchObject({ frame: 25 })
    expect(records.get('stroke', 'w')).toMatchObject({ frame: 3 })
    expect(records.childrenOf('key', 'q')).toEqual([{ ...painted, id: keyId('q', 3), frame: 3 }])
    const moved = records.get('effect', 'e')!.settings.lit
    expect(isCurve(moved) && moved.keys[0]!.frame).toBe(-2)
  })
  it('loses nothing: cut longer again everything is where it was', () => {
    const records = new Records(all)
    records.apply(recutShot(records, shot, 45, 50, newId))
    records.apply(recutShot(records, records.get('shot', 's')!, 10, 60, newId))
    for (const record of all) expect(records.get(record.type, record.id)).toEqual(record)
    expect([...records.values()]).toHaveLength(all.length)
  })
})

describe('composing two changes', () => {
  it('does what one after the other does', () => {
    const first: Diff = { put: [key(1), key(2)], remove: [{ type: 'key', id: keyId('p', 40) }] }
    const second: Diff = {
      put: [{ ...key(1), points: [9, 9, 9, 9] }, key(40)],
      remove: [
        { type: 'key', id: keyId('p', 2) },
        { type: 'key', id: keyId('p', 0) },
      ],
    }
    const [inTurn, atOnce] = [new Records(all), new Records(all)]
    inTurn.apply(first)
    inTurn.apply(second)
    atOnce.apply(composeDiffs(first, second))
    expect([...atOnce.values()]).toEqual([...inTurn.values()])
  })
})
