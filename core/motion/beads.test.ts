import { describe, expect, it } from 'vitest'
import { changedBead, withBeads } from './beads.ts'
import { momentsOf, type MomentShot } from './moments.ts'

const found = (...frames: number[]) => frames.map((frame) => ({ frame, strength: 0.5 }))
const of = (moments: ReturnType<typeof withBeads>) => moments.map(({ frame, muted, gain }) => [frame, muted, gain])

describe('moments that a hand has changed', () => {
  it('are moved, muted and made louder; the rest stays as the motion has it', () => {
    const heard = withBeads(found(10, 20, 30), [])
    let beads = changedBead([], heard[0]!, { muted: true })
    beads = changedBead(beads, withBeads(found(10, 20, 30), beads)[2]!, { frame: 33, gain: 6 })
    expect(of(withBeads(found(10, 20, 30), beads))).toEqual([
      [10, true, 0],
      [20, false, 0],
      [33, false, 6],
    ])
  })
  it('survive a new tracing: what was muted goes along, what was moved stays where the hand put it', () => {
    const beads = [
      { at: 10, frame: null, muted: true, gain: 0 },
      { at: 30, frame: 33, muted: false, gain: 6 },
      { at: null, frame: 5, muted: false, gain: 0 },
    ]
    expect(of(withBeads(found(12.5, 22, 28), beads))).toEqual([
      [5, false, 0],
      [12.5, true, 0],
      [22, false, 0],
      [33, false, 6],
    ])
    // Even where the new motion has no such moment any more.
    expect(of(withBeads(found(21), beads))).toEqual([
      [5, false, 0],
      [21, false, 0],
      [33, false, 6],
    ])
  })
  it('each takes the nearest moment, and none takes two', () => {
    const beads = [
      { at: 11, frame: null, muted: true, gain: 0 },
      { at: 13, frame: null, muted: false, gain: 3 },
    ]
    expect(of(withBeads(found(12, 14), beads))).toEqual([
      [12, true, 0],
      [14, false, 3],
    ])
  })
  it('that are as the motion has them again are forgotten', () => {
    const heard = withBeads(found(10), [{ at: 10, frame: 14, muted: false, gain: 2 }])[0]!
    expect(changedBead([{ at: 10, frame: 14, muted: false, gain: 2 }], heard, { frame: null, gain: 0 })).toEqual([])
  })
})

describe('moments of a motion', () => {
  /** A rod about (0, 0) of 100 px at an angle in degrees by the frame; away where that is NaN. */
  const shotOf = (angle: (f: number) => number, length = 60): MomentShot => ({
    ...{ length, joinStart: 48, contacts: () => [] },
    member: () => [
      {
        ...{ id: 'rod', kind: 'rod', settings: {}, role: 'add' },
        at: (f) => {
          const a = (angle(f) * Math.PI) / 180
          return Number.isNaN(a) || f < 0 || f >= length ? null : [0, 0, 100 * Math.cos(a), 100 * Math.sin(a)]
        },
      },
    ],
  })
  const eased = (u: number) => (u <= 0 ? 0 : u >= 1 ? 1 : u * u * (3 - 2 * u))
  const there = (f: number) => 90 * eased((f - 10) / 10) - 90 * eased((f - 26) / 14)
  const frames = (source: Parameters<typeof momentsOf>[1], angle = there) =>
    momentsOf(shotOf(angle), source, 'a', '').map(({ frame }) => frame)

  it('swings are where it is fastest, the slower one weaker', () => {
    const [first, second, ...more] = momentsOf(shotOf(there), 'swings', 'a', '')
    expect(more).toEqual([])
    expect(first!.frame).toBeCloseTo(15, 0)
    expect(second!.frame).toBeCloseTo(33, 0)
    expect(first!.strength).toBe(1)
    expect(second!.strength).toBeCloseTo(10 / 14, 1)
  })
  it('it turns between them, and stops after each', () => {
    const [turn, ...more] = frames('turns')
    expect(more).toEqual([])
    expect(turn).toBeGreaterThanOrEqual(19)
    expect(turn).toBeLessThanOrEqual(27)
    const stops = frames('stops')
    expect(stops).toHaveLength(2)
    expect(Math.abs(stops[0]! - 20)).toBeLessThanOrEqual(1.5)
    expect(Math.abs(stops[1]! - 40)).toBeLessThanOrEqual(2)
  })
  it('it lands where what was lowest comes down no more', () => {
    const [landing, ...more] = frames('landings', (f) => 90 * eased((f - 10) / 10))
    expect(more).toEqual([])
    expect(Math.abs(landing! - 20)).toBeLessThanOrEqual(2)
  })
  it('it comes and goes where it is away between, and a short hiding is bridged', () => {
    const gone = (f: number) => (f > 14.5 && f < 17.5 ? NaN : there(f))
    expect(frames('comes', gone)).toEqual([0, 18])
    expect(frames('goes', gone)).toEqual([14, 59])
    expect(frames('swings', gone)[0]).toBeCloseTo(15, -1)
  })
  it('the join is where the next shot begins; what stands still has none', () => {
    expect(frames('join')).toEqual([48])
    for (const source of ['swings', 'turns', 'stops', 'landings'] as const) expect(frames(source, () => 30)).toEqual([])
    expect(frames('frames')).toEqual([])
  })
})
