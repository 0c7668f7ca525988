import { expect, it } from 'vitest'
import { neediest } from './neediest.ts'

const frames = (...confidence: number[]) => confidence.map((one, frame) => ({ frame, confidence: one }))

it('where every frame is sure no hand is needed', () => expect(neediest(frames(0.9, 0.6, 0.5), 0.5)).toBeNull())

it('the middle of the least sure stretch comes before a single bad frame', () => {
  const one = frames(0.9, 0.9, 0.1, 0.9, 0.9, 0.9, 0.9, 0.9, 0.9, 0.3, 0.3, 0.3, 0.3, 0.3, 0.9, 0.9)
  expect(neediest(one, 0.5)).toBe(11)
})

it('a lost stretch without end is set in its middle', () => {
  expect(neediest(frames(...Array.from({ length: 40 }, (_, f) => (f < 9 ? 0.9 : 0))), 0.5)).toBe(24)
})

it('of nothing there is nothing', () => expect(neediest([], 0.5)).toBeNull())
