import { describe, expect, it } from 'vitest'
import { makeKey } from '../records/make.ts'
import { framesOfSpan, type FrameSpan } from './frameSpan.ts'

/** Keys by hand at 10 and 20, frames 11 to 14 and 22 to 25 followed, in a shot of 40 frames. */
const keys = [
  makeKey('p', 10, [0, 0]),
  ...[11, 12, 13, 14].map((frame) => makeKey('p', frame, [0, 0], '', 0.9)),
  makeKey('p', 20, [0, 0]),
  ...[22, 23, 24, 25].map((frame) => makeKey('p', frame, [0, 0], '', 0.9)),
]
const part = { name: 'Pole' }
const at = (span: FrameSpan, frame: number, range: { from: number; to: number } | null = null) =>
  framesOfSpan(span, part, keys, { frame, length: 40, range })

describe('the frames of a run', () => {
  it.each<[FrameSpan, number, [number, number]]>([
    ['on', 10, [11, 19]],
    ['on', 12, [13, 19]],
    ['on', 20, [21, 39]],
    ['back', 10, [0, 9]],
    ['back', 20, [11, 19]],
    ['both', 15, [11, 19]],
    ['both', 20, [11, 39]],
    ['step', 12, [13, 13]],
    ['stepBack', 12, [11, 11]],
    ['end', 12, [13, 39]],
    ['start', 12, [0, 11]],
    ['all', 12, [0, 39]],
  ])('%s from frame %i is %j', (span, frame, [from, to]) => {
    expect(at(span, frame)).toEqual({ from, to })
  })
  it('again are those next to the key, and at an open end those that were followed before', () => {
    expect(at('again', 20)).toEqual({ from: 11, to: 25 })
    expect(at('again', 10)).toEqual({ from: 10, to: 19 })
  })
  it('of a range are the chosen ones; without one the user hears how to choose it', () => {
    expect(at('range', 0, { from: 3, to: 8 })).toEqual({ from: 3, to: 8 })
    expect(at('range', 0)).toMatch(/sweep over frames/)
  })
  it('that begin at no key by hand are a sentence that names where one is', () => {
    expect(at('on', 5)).toMatch(/no key of Pole at frame 5 or before it.*frame 10/)
    expect(at('back', 30)).toMatch(/no key of Pole at frame 30 or after it.*frame 20/)
    const followed = keys.filter((key) => key.followed !== null)
    expect(framesOfSpan('on', part, followed, { frame: 12, length: 40, range: null })).toMatch(/has no key yet/)
  })
})
