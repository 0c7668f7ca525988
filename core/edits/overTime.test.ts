import { describe, expect, it } from 'vitest'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import { makePart } from '../shapes/make.ts'
import { carriersFirst, carriersOf, keyedFrom, likelyShape, rideFrom, shapeOf, wouldCircle } from '../shapes/riding.ts'
import { shapeAt, type Track } from '../shapes/track.ts'
import { editOverTime, farthestApart, inBetweenAt, stretchedFrame, thinned } from './overTime.ts'

const turned = (degrees: number, length = 100, x = 0, y = 0) => [
  ...[x, y],
  ...[x + length * Math.cos((degrees * Math.PI) / 180), y + length * Math.sin((degrees * Math.PI) / 180)],
]
const track = (frames: number[], shape: (frame: number) => number[], more: Partial<Track> = {}): Track => ({
  keys: frames.map((frame) => ({ frame, points: shape(frame) })),
  ...{ aways: [], tween: 'arc', hold: false },
  ...more,
})
const length = (p: readonly number[]) => Math.hypot(p[2]! - p[0]!, p[3]! - p[1]!)
const angle = (p: readonly number[]) => (Math.atan2(p[3]! - p[1]!, p[2]! - p[0]!) * 180) / Math.PI

describe('in-betweens over several keys', () => {
  it('an arc speeds up through its keys instead of in steps: the speed has no jump at a key', () => {
    // 0, 10 and 40 degrees at frames 0, 10, 20: speeding up.
    const t = track([0, 10, 20], (f) => turned(f === 0 ? 0 : f === 10 ? 10 : 40))
    const speed = (f: number) => angle(shapeAt(t, f + 0.05)!) - angle(shapeAt(t, f - 0.05)!)
    expect(speed(9.9) / speed(10.1)).toBeCloseTo(1, 1)
    expect(speed(2)).toBeLessThan(speed(18) / 3)
    for (let f = 0; f <= 20; f++) expect(length(shapeAt(t, f)!)).toBeCloseTo(100, 6)
  })
  it('follows a steady change of speed more closely than straight spans do', () => {
    const swing = (f: number) => turned(0.12 * f * f)
    const error = (tween: Track['tween']) => {
      const t = track([0, 8, 16, 24], swing, { tween })
      return Math.max(...Array.from({ length: 25 }, (_, f) => farthestApart(shapeAt(t, f)!, swing(f))))
    }
    expect(error('arc')).toBeLessThan(error('straight') / 4)
  })
  it('a key where the motion turns back is a stop and nothing swings past it', () => {
    const t = track([0, 10, 20], (f) => turned(f === 10 ? 60 : 0))
    for (let f = 0; f <= 20; f += 0.25) {
      expect(angle(shapeAt(t, f)!)).toBeLessThanOrEqual(60 + 1e-9)
      expect(angle(shapeAt(t, f)!)).toBeGreaterThanOrEqual(-1e-9)
    }
  })
  it('a span may be held, eased or straight while the rest is not', () => {
    const t = track([0, 10, 20, 30], (f) => turned(f * 3))
    const keys = t.keys.map((key, i) => ({ ...key, tween: (['held', 'eased', 'straight', ''] as const)[i]! }))
    const styled = { ...t, keys }
    expect(shapeAt(styled, 9.5)).toEqual(turned(0))
    // CSS Easing Level 1, ease-in-out is symmetric: half way at half time, behind before it.
    expect(angle(shapeAt(styled, 15)!)).toBeCloseTo(45, 3)
    expect(angle(shapeAt(styled, 12)!)).toBeLessThan(36 - 1)
    expect(length(shapeAt(styled, 25)!)).toBeLessThan(100)
  })
})

describe('edits over time', () => {
  const t = track([0, 10, 20, 30, 40], (f) => turned(f * 2, 100, f, 0))
  const before = shapeAt(t, 20)!
  const at = (list: { frame: number; points: number[] }[], frame: number) =>
    list.find((one) => one.frame === frame)?.points

  it('a shift on all keys shifts the whole track alike', () => {
    const edits = editOverTime(
      t,
      20,
      before,
      before.map((v, i) => v + (i % 2 ? -5 : 7)),
      { over: 'all' },
    )
    expect(edits.map((one) => one.frame)).toEqual([0, 10, 20, 30, 40])
    for (const { frame, points } of edits)
      points.forEach((v, i) => expect(v).toBeCloseTo(shapeAt(t, frame)![i]! + (i % 2 ? -5 : 7), 6))
  })
  it('a blade made longer is longer in whichever direction it points', () => {
    const longer = turned(40, 130, 20, 0)
    const edits = editOverTime(t, 20, before, longer, { over: 'all' })
    for (const { frame, points } of edits) {
      expect(length(points)).toBeCloseTo(130, 6)
      expect(angle(points)).toBeCloseTo(frame * 2, 6)
    }
  })
  it('counts on the keys of a range only', () => {
    const edits = editOverTime(t, 20, before, turned(45, 100, 20, 0), { over: 'range', from: 15, to: 32 })
    expect(edits.map((one) => one.frame)).toEqual([20, 30])
  })
  it('fades out on either side and changes nothing farther off', () => {
    const moved = before.map((v, i) => (i % 2 ? v + 30 : v))
    const edits = editOverTime(t, 20, before, moved, { over: 'fade', frames: 13 })
    expect(edits.map((one) => one.frame)).toEqual([6, 10, 20, 30, 34])
    const share = (at(edits, 10)![1]! - shapeAt(t, 10)![1]!) / 30
    expect(share).toBeGreaterThan(0.1)
    expect(share).toBeLessThan(0.4)
    expect(at(edits, 6)).toEqual(shapeAt(t, 6))
  })
  it('keys that the in-betweens explain can go, and nothing moves by more than was allowed', () => {
    const dense = track(
      Array.from({ length: 41 }, (_, f) => f),
      (f) => turned(f < 20 ? f * 2 : 40 + (f - 20) * 9),
    )
    const dropped = thinned(dense, 0.5)
    expect(dropped.length).toBeGreaterThan(20)
    const rest = { ...dense, keys: dense.keys.filter((key) => !dropped.includes(key.frame)) }
    for (let f = 0; f <= 40; f++) expect(farthestApart(shapeAt(rest, f)!, shapeAt(dense, f)!)).toBeLessThanOrEqual(0.5)
    expect(thinned(dense, 0.5, { from: 0, to: 10 }).every((frame) => frame <= 10)).toBe(true)
  })
  it('a stretched range keeps its start and takes the rest along', () => {
    expect([10, 15, 20].map((f) => stretchedFrame(f, 10, 20, 30))).toEqual([10, 20, 30])
    expect(stretchedFrame(10, 10, 10, 30)).toBe(10)
  })
  it('the in-between of a key is what its neighbours give', () => {
    const even = track([0, 10, 20, 30, 40], (f) => turned(f * 2))
    const odd = { ...even, keys: even.keys.map((key) => (key.frame === 20 ? { ...key, points: [9, 9, 9, 99] } : key)) }
    expect(farthestApart(inBetweenAt(odd, 20)!, turned(40))).toBeLessThan(0.01)
    expect(inBetweenAt(odd, 0)).toBeNull()
  })
})

describe('riding', () => {
  const part = (id: string) => makePart({ id, member: 'm', name: id, kind: 'rod', order: id.charCodeAt(0) })
  const records = new Records([
    { type: 'member', id: 'm', shot: 's', name: 'Keeper', kind: 'performer', colour: 0, order: 1 },
    ...['arm', 'hand', 'ring'].map(part),
    makeKey('arm', 0, turned(0, 100, 50, 50)),
    makeKey('arm', 10, turned(90, 200, 80, 50)),
    makeKey('hand', 0, [150, 50, 160, 60]),
  ])
  const ride = (id: string, on: string, frame: number) => {
    const one = records.get('part', id)!
    const rider = { ...one, ride: { on, from: rideFrom(records, one, on, frame) } }
    records.apply({ put: [rider], remove: [] })
    return rider
  }

  it('a part moves, turns and grows with what carries it and keeps its own keys', () => {
    records.apply({ put: [{ ...part('hand'), hold: true }], remove: [] })
    const hand = ride('hand', 'arm', 0)
    expect(shapeOf(records, hand, 0)!.map((v) => +v.toFixed(6))).toEqual([150, 50, 160, 60])
    // The arm turns by a quarter and grows twofold about its moving heel: the hand's own offset does, too.
    expect(shapeOf(records, hand, 10)!.map((v) => +v.toFixed(6))).toEqual([80, 250, 60, 270])
    expect(keyedFrom(records, hand, 10, [80, 250, 60, 270]).map((v) => +v.toFixed(6))).toEqual([150, 50, 160, 60])
  })
  it('is not there where what carries it is not; its likely place still is', () => {
    const hand = records.get('part', 'hand')!
    records.apply({ put: [{ type: 'away', id: 'a', part: 'arm', from: 10, to: 12 }], remove: [] })
    expect(shapeOf(records, hand, 10)).toBeNull()
    expect(likelyShape(records, hand, 10)).not.toBeNull()
    records.apply({ put: [], remove: [{ type: 'away', id: 'a' }] })
  })
  it('puts what carries before what rides on it, and what rides on nothing in its place', () => {
    const parts = ['hand', 'ring', 'arm'].map((id) => records.get('part', id)!)
    expect(carriersFirst(parts).map((one) => one.id)).toEqual(['arm', 'hand', 'ring'])
    expect(carriersFirst([parts[1]!, parts[0]!]).map((one) => one.id)).toEqual(['ring', 'hand'])
  })
  it('refuses circles, over however many parts, and never runs in one', () => {
    ride('ring', 'hand', 0)
    const arm = records.get('part', 'arm')!
    expect(wouldCircle(records, arm, 'ring')).toBe(true)
    expect(wouldCircle(records, arm, 'arm')).toBe(true)
    expect(wouldCircle(records, records.get('part', 'ring')!, 'arm')).toBe(false)
    const looped = { ...arm, ride: { on: 'ring', from: [{ part: 'ring', points: [0, 0, 1, 1] }] } }
    const broken = new Records([...records.values()])
    broken.apply({ put: [looped], remove: [] })
    expect(shapeOf(broken, looped, 0)).toBeNull()
  })
  it('on a member as a whole rides on all of its parts that it does not carry itself', () => {
    const ring = records.get('part', 'ring')!
    expect(carriersOf(records, 'm')).toHaveLength(3)
    const from = rideFrom(records, { ...ring, ride: null }, 'm', 0)
    expect(from.map((one) => one.part)).toEqual(['arm', 'hand'])
  })
})
