import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { carriedBy } from './kind.ts'
import { outline, smoothNodes } from './kinds/outline.ts'
import { oval } from './kinds/oval.ts'
import { reachedTip, rod, rodWidths, withTracedWidth } from './kinds/rod.ts'
import { cellAt, ghostAt, shapeAt, tracedShare, type Track, withAway } from './track.ts'
import { tween } from './tween.ts'

const length = (p: readonly number[]) => Math.hypot(p[2]! - p[0]!, p[3]! - p[1]!)
const track = (keys: Track['keys'], more: Partial<Track> = {}): Track => ({
  keys,
  aways: [],
  tween: 'arc',
  hold: false,
  ...more,
})

describe('in-betweens', () => {
  it('an arc keeps the length of a rod and turns at a steady rate; straight shortens it', () => {
    const a = [100, 100, 200, 100]
    const b = [100, 100, 100, 200]
    expect(length(tween(a, b, 0.5, 'arc'))).toBeCloseTo(100, 6)
    expect(tween(a, b, 0.5, 'arc')[2]).toBeCloseTo(100 + 100 * Math.SQRT1_2, 6)
    expect(length(tween(a, b, 0.5, 'straight'))).toBeCloseTo(100 * Math.SQRT1_2, 6)
  })
  it('meets both keys exactly, in either style, for any shape', () => {
    const coordinates = fc.array(fc.integer({ min: -2000, max: 2000 }), { minLength: 6, maxLength: 6 })
    fc.assert(
      fc.property(coordinates, coordinates, fc.constantFrom('arc' as const, 'straight' as const), (a, b, style) => {
        tween(a, b, 0, style).forEach((v, i) => expect(v).toBeCloseTo(a[i]!, 4))
        tween(a, b, 1, style).forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 4))
      }),
    )
  })
  it('a pure shift is a straight line in both styles', () => {
    const a = [10, 10, 60, 40]
    const b = a.map((v) => v + 30)
    tween(a, b, 0.3, 'arc').forEach((v, i) => expect(v).toBeCloseTo(tween(a, b, 0.3, 'straight')[i]!, 6))
  })
})

describe('a track', () => {
  const keys = [
    { frame: 4, points: [0, 0, 100, 0] },
    { frame: 8, points: [0, 0, 0, 100] },
  ]
  it('has a shape from its first to its last key, and beyond only when held', () => {
    expect(shapeAt(track(keys), 3)).toBeNull()
    expect(shapeAt(track(keys), 4)).toEqual(keys[0]!.points)
    expect(shapeAt(track(keys), 9)).toBeNull()
    expect(shapeAt(track(keys, { hold: true }), 90)).toEqual(keys[1]!.points)
  })
  it('goes on moving for half a frame at its ends, so that the shutter sees the motion', () => {
    const after = shapeAt(track(keys), 8.25)!
    expect(length(after)).toBeCloseTo(100, 6)
    expect(after[2]).toBeLessThan(0)
  })
  it('is not there on away frames; a key in an away range stays', () => {
    const t = track(keys, { aways: [{ from: 5, to: 6 }] })
    expect(shapeAt(t, 5)).toBeNull()
    expect(shapeAt(t, 6.4)).toBeNull()
    expect(shapeAt(t, 7)).not.toBeNull()
    expect([4, 5, 6, 7, 8, 9].map((f) => cellAt(t, f))).toEqual(['key', 'away', 'away', 'between', 'key', 'none'])
    expect(tracedShare(t, 10)).toBeCloseTo(0.5, 9)
  })
  it('tells what a hand set from what was followed', () => {
    const t = track([
      { frame: 0, points: [0, 0, 1, 1] },
      { frame: 1, points: [0, 0, 1, 1], followed: 0.8 },
      { frame: 2, points: [0, 0, 1, 1], followed: null },
    ])
    expect([0, 1, 2].map((f) => cellAt(t, f))).toEqual(['key', 'followed', 'key'])
  })
  it('made of pixels it is there on the frames of its keys, and on no other', () => {
    const t = track(
      [
        { frame: 2, points: [0, 0, 1, 1], followed: null },
        { frame: 3, points: [5, 0, 6, 1], followed: 0.8 },
        { frame: 6, points: [9, 0, 9, 1], followed: null },
      ],
      { exact: true, hold: true, aways: [{ from: 6, to: 6 }] },
    )
    expect([0, 1, 2, 3, 4, 5, 6, 7].map((f) => cellAt(t, f))).toEqual([
      'none',
      'none',
      'key',
      'followed',
      'none',
      'none',
      'key',
      'none',
    ])
    expect(shapeAt(t, 2.4)).toEqual([0, 0, 1, 1])
    expect(shapeAt(t, 2.6)).toEqual([5, 0, 6, 1])
    expect([shapeAt(t, 1.4), shapeAt(t, 4), shapeAt(t, 6), ghostAt(t, 5)]).toEqual([null, null, null, null])
    expect(tracedShare(t, 10)).toBeCloseTo(0.3, 9)
  })
  it('the share that is traced is what its cells say, frame by frame', () => {
    const range = fc.tuple(fc.integer({ min: -5, max: 45 }), fc.integer({ min: 0, max: 9 }))
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: -6, max: 46 }), { maxLength: 5 }),
        fc.array(range, { maxLength: 3 }),
        fc.boolean(),
        fc.boolean(),
        (frames, away, hold, rides) => {
          const aways = away.reduce<{ from: number; to: number }[]>(
            (all, [from, n]) => withAway(all, from, from + n, true),
            [],
          )
          const sorted = frames.sort((a, b) => a - b).map((frame) => ({ frame, points: [0, 0, 1, 1] }))
          const t = track(sorted, { aways, hold })
          const counts = (f: number) => !['none', ...(rides ? [] : ['held'])].includes(cellAt(t, f))
          const share = Array.from({ length: 40 }, (_, f) => f).filter(counts).length / 40
          expect(tracedShare(t, 40, rides)).toBeCloseTo(share, 9)
        },
      ),
    )
  })
  it('the ghost goes on turning with the swing and keeps its length', () => {
    const ghost = ghostAt(track(keys), 12)!
    expect(ghost[2]).toBeCloseTo(-100, 6)
    expect(ghost[3]).toBeCloseTo(0, 6)
    expect(ghostAt(track(keys), 0)![3]).toBeCloseTo(-100, 6)
    expect(ghostAt(track([keys[0]!]), 50)).toEqual(keys[0]!.points)
    expect(ghostAt(track([]), 0)).toBeNull()
  })
  it('away ranges stay sorted, apart and merged', () => {
    let ranges = withAway([], 5, 5, true)
    ranges = withAway(ranges, 6, 8, true)
    expect(ranges).toEqual([{ from: 5, to: 8 }])
    expect(withAway(ranges, 6, 6, false)).toEqual([
      { from: 5, to: 5 },
      { from: 7, to: 8 },
    ])
  })
})

describe('part kinds', () => {
  it('a rod reaches on along its own direction', () => {
    expect(reachedTip([0, 0, 30, 40], 50)).toEqual([60, 80])
    expect(reachedTip([5, 5, 5, 5], 50)).toEqual([5, 5])
    expect(rod.path([0, 0, 10, 0], { widthHeel: 4, widthTip: 2 }).slice(0, 2)).toEqual([0, 2])
  })
  describe('a rod that carries its width', () => {
    const wide = withTracedWidth([0, 0, 100, 0], { heel: 10, tip: 4 })
    it('is as wide as that, whatever is set for all frames', () => {
      expect(rodWidths(wide, { widthHeel: 30, widthTip: 30 })).toEqual({ heel: 10, tip: 4 })
      expect(rod.path(wide, { widthHeel: 30, widthTip: 30 })).toEqual(
        rod.path([0, 0, 100, 0], { widthHeel: 10, widthTip: 4 }),
      )
    })
    it('keeps it when an end is moved; a side moves by how far it lies off the axis, and marks it on that axis', () => {
      expect(rodWidths(rod.moved(wide, 1, 0, 80), {})).toEqual({ heel: 10, tip: 4 })
      expect(rod.moved(wide, 1, 0, 80).slice(4, 6)).toEqual([-5, 16])
      expect(rodWidths(rod.moved(wide, 3, 120, -9), {})).toEqual({ heel: 10, tip: 18 })
      expect(rod.moved(wide, 3, 120, -9)).toEqual([0, 0, 100, 0, 20, 5, 80, 9])
    })
    it('grows evenly from key to key, as it turns', () => {
      const later = withTracedWidth([0, 0, 0, 100], { heel: 20, tip: 8 })
      const { heel, tip } = rodWidths(tween(wide, later, 0.5, 'arc'), {})
      expect([heel, tip]).toEqual([expect.closeTo(15, 0), expect.closeTo(6, 0)])
    })
    it('takes its sides along when it is carried, and keeps its width where one end is', () => {
      const shift = (x: number, y: number): [number, number] => [x + 3, y]
      expect(carriedBy(rod, wide, [0, 1], shift)).toEqual([3, 0, 103, 0, 23, 5, 83, 2])
      const turned = carriedBy(rod, wide, [0], (x, y) => [x, y + 60])
      expect(turned.slice(0, 4)).toEqual([0, 60, 100, 0])
      expect(rodWidths(turned, {})).toEqual({ heel: expect.closeTo(10, 9), tip: expect.closeTo(4, 9) })
      expect(carriedBy(rod, [0, 0, 100, 0], [0], shift)).toEqual([3, 0, 100, 0])
    })
    it('is made like another of its part', () => {
      expect(rod.likewise!([0, 0, 50, 0], wide, {})).toEqual(withTracedWidth([0, 0, 50, 0], { heel: 10, tip: 4 }))
      expect(rod.likewise!(wide, [0, 0, 50, 0], {})).toEqual([0, 0, 100, 0])
    })
  })
  it('an oval is the box drawn from its middle, or a circle where its edge was clicked straight across', () => {
    expect(oval.fromClicks([100, 100, 130, 120])).toEqual([100, 100, 130, 100, 100, 120])
    expect(oval.fromClicks([100, 100, 140, 100])).toEqual([100, 100, 140, 100, 100, 140])
    expect(oval.fromClicks([100, 100, 100, 70])).toEqual([100, 100, 130, 100, 100, 130])
  })
  it('an oval moves as one by its middle; an outline node takes its handles along', () => {
    expect(oval.moved([10, 10, 20, 10, 10, 15], 0, 12, 13)).toEqual([12, 13, 22, 13, 12, 18])
    const nodes = smoothNodes([0, 0, 10, 0, 10, 10])
    const moved = outline.moved(nodes, 0, 3, 4)
    expect(moved.slice(0, 8).map((v, i) => +(v - nodes[i]!).toFixed(9))).toEqual([3, 4, 3, 4, 3, 4, 3, 4])
    expect(moved.slice(8)).toEqual(nodes.slice(8))
  })
})
