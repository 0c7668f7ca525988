import { describe, expect, it } from 'vitest'
import { makeKey } from '../records/make.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Key } from '../records/types.ts'
import { rodWidths, withTracedWidth } from '../shapes/kinds/rod.ts'
import { makePart } from '../shapes/make.ts'
import { framesOfSpan, type FrameSpan } from './frameSpan.ts'
import { keptRun } from './runs.ts'

const key = (frame: number, followed: number | null): Key =>
  makeKey('p', frame, [frame, 0, frame + 100, 0], '', followed)
const made = (...frames: number[]) => frames.map((f) => key(f, 0.8))
const rod = makePart({ id: 'p', member: 'm', name: 'pole', kind: 'rod', order: 1 })
const kept = (records: AnyRecord[], found: readonly Key[], of: Parameters<typeof keptRun>[3]) =>
  keptRun(new Records([rod, ...records]), rod, found, of)

describe('what a run leaves', () => {
  const span = { from: 1, to: 6, stopped: false }
  it('is what it found, but for where a hand was at work meanwhile', () => {
    const away: AnyRecord = { type: 'away', id: 'a', part: 'p', from: 5, to: 5 }
    const { put, remove } = kept([key(0, null), key(3, null), away], made(1, 2, 3, 4, 5, 6), span)
    expect(put.map((one) => one.type === 'key' && one.frame)).toEqual([1, 2, 4, 6])
    expect(remove).toEqual([])
  })
  it('has nothing more of an earlier run where this one found nothing; beyond its frames that one stays', () => {
    const before = [key(0, null), ...[2, 4, 6, 8].map((f) => key(f, 0.5))]
    expect(kept(before, made(1, 2), span).remove.map((ref) => ref.id)).toEqual(['p@4', 'p@6'])
  })
  it('that was stopped takes nothing away', () => {
    expect(kept([key(0, null), key(4, 0.5)], made(1), { ...span, stopped: true }).remove).toEqual([])
  })

  describe('of a rod whose width changes', () => {
    const wide = (frame: number, width: number): Key => ({
      ...key(frame, 0.8),
      points: withTracedWidth([0, 0, 100, 0], { heel: width, tip: width }),
    })
    const widthsOf = (put: readonly AnyRecord[]) =>
      put.map((one) => one.type === 'key' && [one.frame, rodWidths(one.points, {}).heel])
    it('all keys carry a width from then on: those of the hand the one that was set for all', () => {
      const before = [0, 4, 9].map((frame) => ({ ...key(frame, frame === 4 ? 0.5 : null), points: [0, 0, 100, 0] }))
      const { put, remove } = kept(before, [wide(1, 9), wide(2, 11)], span)
      expect(widthsOf(put)).toEqual([
        [0, 8],
        [9, 8],
        [1, 9],
        [2, 11],
      ])
      expect(remove.map((ref) => ref.id)).toEqual(['p@4'])
    })
    it('a correction beside frames that were followed with one width leaves it so', () => {
      const before = [0, 4, 9].map((frame) => ({ ...key(frame, frame === 9 ? 0.5 : null), points: [0, 0, 100, 0] }))
      const { put } = kept(before, [wide(1, 9), wide(2, 11)], span)
      expect(put.map((one) => one.type === 'key' && [one.frame, one.points])).toEqual([
        [1, [0, 0, 100, 0]],
        [2, [0, 0, 100, 0]],
      ])
    })
    it('what a run finds without a width has the one that was set, where keys carry one by then', () => {
      const { put } = kept([wide(0, 20)], [{ ...key(3, 0.7), points: [0, 0, 100, 0] }], span)
      expect(widthsOf(put)).toEqual([
        [0, 20],
        [3, 8],
      ])
    })
  })
})

describe('over which frames a part is followed', () => {
  const hands = [key(10, null), key(20, null)]
  const followed = [key(12, 0.9), key(24, 0.9), key(28, 0.9)]
  const keys = [...hands, ...followed].sort((a, b) => a.frame - b.frame)
  const from = (frame: number, span: FrameSpan, of = keys, range: { from: number; to: number } | null = null) =>
    framesOfSpan(span, { name: 'pole' }, of, { frame, length: 40, range })
  it.each<[FrameSpan, number, [number, number]]>([
    ['on', 10, [11, 19]],
    ['on', 20, [21, 39]],
    ['end', 12, [13, 39]],
    ['step', 10, [11, 11]],
    ['back', 20, [11, 19]],
    ['start', 10, [0, 9]],
    ['stepBack', 20, [19, 19]],
    ['both', 20, [11, 39]],
    ['all', 20, [0, 39]],
    // The open end goes as far as it was followed before.
    ['again', 20, [11, 28]],
  ])('%s at frame %i: %j', (span, frame, [first, last]) => {
    expect(from(frame, span)).toEqual({ from: first, to: last })
  })
  it('of a chosen range are its frames; without one a sentence says how to choose', () => {
    expect(from(0, 'range', keys, { from: 3, to: 7 })).toEqual({ from: 3, to: 7 })
    expect(from(0, 'range')).toMatch(/sweep over frames of the sheet with Shift/)
  })
  it('without a key to go by a sentence says where to set one', () => {
    expect(from(5, 'on', [])).toMatch(/pole has no key yet/)
    expect(from(5, 'on')).toMatch(/no key of pole at frame 5 or before it: set it here, or go to frame 10/)
    expect(from(30, 'back')).toMatch(/no key of pole at frame 30 or after it: set it here, or go to frame 20/)
  })
})
