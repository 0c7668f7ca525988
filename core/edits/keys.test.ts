import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import { type AnyRecord, type Key, keyId, type Part } from '../records/types.ts'
import { cornerNodes } from '../shapes/kinds/outline.ts'
import { isWidthTraced, rodWidths, withTracedWidth } from '../shapes/kinds/rod.ts'
import { makePart } from '../shapes/make.ts'
import { withNode } from '../shapes/outlineEdit.ts'
import { shapeOf } from '../shapes/riding.ts'
import { awayChanged, keyWithStrokes, movedKeys, placed, pointsChanged } from './keys.ts'
import { widthSet, widthTraced } from './rodWidth.ts'

let next = 0
const newId = () => `new${next++}`
const member: AnyRecord = { type: 'member', id: 'm', shot: 's', name: 'Keeper', kind: 'prop', colour: 0, order: 1 }
const rod = makePart({ id: 'p', member: 'm', name: 'pole', kind: 'rod', order: 1 })
const at = (frame: number): number[] => [frame, 0, frame + 100, 0]
const key = (frame: number, followed: number | null = null): Key => makeKey('p', frame, at(frame), '', followed)
const framesOf = (records: Records) => records.childrenOf('key', 'p').map((one) => one.frame)

describe('the width of a rod', () => {
  const part: Part = { ...rod, settings: { widthHeel: 12, widthTip: 6 } }
  const widthsOf = (records: Records) =>
    records.childrenOf('key', 'p').map(({ points }) => [isWidthTraced(points), rodWidths(points, part.settings)])
  it('is the one that was set when it begins to be traced; afterwards one for all is what is usual', () => {
    const records = new Records([member, part, key(0), key(5), key(10)])
    records.apply(widthTraced(records, part))
    expect(widthsOf(records)).toEqual([0, 5, 10].map(() => [true, { heel: 12, tip: 6 }]))
    const wider = withTracedWidth(at(5), { heel: 20, tip: 9 })
    records.apply(placed(records, part, 5, wider, { over: 'frame' }, newId))
    records.apply(placed(records, part, 10, withTracedWidth(at(10), { heel: 16, tip: 8 }), { over: 'frame' }, newId))
    records.apply(widthSet(records, part))
    expect(widthsOf(records).map(([traced]) => traced)).toEqual([false, false, false])
    expect(records.get('part', 'p')!.settings).toEqual({ widthHeel: 16, widthTip: 8 })
  })
  it('stays what it is there where the rod is placed anew by two clicks', () => {
    const records = new Records([member, part, { ...key(0), points: withTracedWidth(at(0), { heel: 20, tip: 10 }) }])
    records.apply(placed(records, part, 4, [0, 0, 0, 50], { over: 'frame' }, newId))
    expect(widthsOf(records)[1]).toEqual([true, { heel: 20, tip: 10 }])
  })
})

describe('placing a shape on a frame', () => {
  const frame = { over: 'frame' } as const
  it('makes one key there, which shows in the picture as it was placed', () => {
    const records = new Records([member, rod, key(0), key(10)])
    records.apply(placed(records, rod, 4, [7, 7, 90, 40], frame, newId))
    expect(framesOf(records)).toEqual([0, 4, 10])
    expect(shapeOf(records, rod, 4)).toEqual([7, 7, 90, 40])
  })
  it('ends what is away there, and no more of it', () => {
    const records = new Records([member, rod, key(0), { type: 'away', id: 'a', part: 'p', from: 3, to: 9 }])
    records.apply(placed(records, rod, 5, at(5), frame, newId))
    expect(records.childrenOf('away', 'p').map(({ from, to }) => [from, to])).toEqual([
      [3, 4],
      [6, 9],
    ])
  })
  it('is the hand’s own from then on; keys that the edit takes along stay what they were', () => {
    const records = new Records([member, rod, key(0), key(5, 0.4), key(10, 0.9)])
    const moved = at(5).map((v, i) => (i % 2 ? v + 20 : v))
    records.apply(placed(records, rod, 5, moved, { over: 'all' }, newId))
    expect(records.childrenOf('key', 'p').map((one) => [one.points[1], one.followed])).toEqual([
      [20, null],
      [20, null],
      [20, 0.9],
    ])
  })
  it('of a part that rides keeps its place in the picture', () => {
    const carrier = makePart({ id: 'c', member: 'm', name: 'boat', kind: 'rod', order: 2 })
    const rider: Part = { ...rod, ride: { on: 'c', from: [{ part: 'c', points: [0, 0, 50, 0] }] } }
    const boat = [0, 10].map((f) => makeKey('c', f, [3 * f, f, 3 * f + 50, f]))
    const records = new Records([member, carrier, rider, ...boat])
    records.apply(placed(records, rider, 10, [100, 60, 180, 60], frame, newId))
    const [own] = records.childrenOf('key', 'p')
    expect(shapeOf(records, rider, 10)!.map(Math.round)).toEqual([100, 60, 180, 60])
    // Kept as it was where the boat stood when the riding began.
    expect(own!.points.map(Math.round)).toEqual([70, 50, 150, 50])
  })
})

describe('away ranges', () => {
  it('hold exactly the frames that were marked, whatever was marked before and after', () => {
    const step = fc.tuple(fc.nat(20), fc.nat(6), fc.boolean())
    fc.assert(
      fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
        const records = new Records([member, rod])
        const wanted = new Set<number>()
        for (const [from, more, away] of steps) {
          records.apply(awayChanged(records, rod, [{ from, to: from + more }], away, newId))
          for (let f = from; f <= from + more; f++) wanted[away ? 'add' : 'delete'](f)
        }
        const ranges = records.childrenOf('away', 'p')
        const marked = ranges.flatMap(({ from, to }) => Array.from({ length: to - from + 1 }, (_, i) => from + i))
        expect(marked).toEqual([...wanted].sort((a, b) => a - b))
      }),
    )
  })
})

describe('keys sent to other frames', () => {
  const records = () => new Records([member, rod, ...[0, 4, 8, 20].map((f) => key(f))])
  const some = (of: Records, ...frames: number[]) => [
    { part: rod, keys: of.childrenOf('key', 'p').filter((one) => frames.includes(one.frame)) },
  ]
  it('move and leave no key behind, replacing what stands where they come to', () => {
    const all = records()
    all.apply(movedKeys(some(all, 4, 8), (f) => f + 12, { copy: false, length: 40 }))
    expect(framesOf(all)).toEqual([0, 16, 20])
    // The one that came to frame 20 shows what it showed at 8.
    expect(all.get('key', keyId('p', 20))!.points).toEqual(at(8))
  })
  it('copied stay where they were, too', () => {
    const all = records()
    all.apply(movedKeys(some(all, 0, 4), (f) => f + 10, { copy: true, length: 40 }))
    expect(framesOf(all)).toEqual([0, 4, 8, 10, 14, 20])
  })
  it('stay within the shot; where two come together the one that lay nearer is kept', () => {
    const all = records()
    all.apply(movedKeys(some(all, 8, 20), (f) => f + 15, { copy: false, length: 24 }))
    expect(framesOf(all)).toEqual([0, 4, 23])
    expect(all.get('key', keyId('p', 23))!.points).toEqual(at(20))
  })
  it('are all back with one undo', () => {
    const all = records()
    const before = all.childrenOf('key', 'p')
    all.apply(all.apply(movedKeys(some(all, 0, 4, 8, 20), (f) => 20 - f, { copy: false, length: 40 })))
    expect(all.childrenOf('key', 'p')).toEqual(before)
  })
})

it('a key is removed with the strokes of its frame, and with no others', () => {
  const stroke = (id: string, frame: number): AnyRecord => ({
    ...{ type: 'stroke', id, part: 'q', frame, order: 1, wanted: true, size: 9, points: [1, 2] },
  })
  const painted = makePart({ id: 'q', member: 'm', name: 'matte', kind: 'painted', order: 2 })
  const records = new Records([member, painted, stroke('a', 3), stroke('b', 3), stroke('c', 4)])
  expect(keyWithStrokes(records, painted, 3).map((ref) => ref.id)).toEqual(['q@3', 'a', 'b'])
})

it('a point put into an outline is put into all of its keys and into what remembers it for riding', () => {
  const square = cornerNodes([0, 0, 10, 0, 10, 10, 0, 10])
  const outline = makePart({ id: 'o', member: 'm', name: 'body', kind: 'outline', order: 2 })
  const rider: Part = { ...rod, ride: { on: 'o', from: [{ part: 'o', points: square }] } }
  const records = new Records([member, outline, rider, makeKey('o', 0, square), makeKey('o', 9, square)])
  records.apply(pointsChanged(records, outline, (points) => withNode(points, 1, 0.5)))
  const five = withNode(square, 1, 0.5)
  expect(records.childrenOf('key', 'o').map((one) => one.points)).toEqual([five, five])
  expect(records.get('part', 'p')!.ride!.from[0]!.points).toEqual(five)
})
