import { expect, it } from 'vitest'
import { fullRate, namedRate } from './rate.ts'

it('names the rate that was meant in spite of rounded times', () => {
  // 72 frames at 24 a second with times in whole milliseconds.
  expect(namedRate(71 / 2.958, 2.958)).toBe(24)
  expect(namedRate(30000 / 1001, 10)).toBe(29.97)
  expect(namedRate(24000 / 1001, 60)).toBe(23.976)
  // A phone that runs at 29.72 does run at 29.72.
  expect(namedRate(29.72, 20)).toBe(29.72)
  expect(fullRate(29.97)).toBeCloseTo(30000 / 1001, 9)
  expect(fullRate(24)).toBe(24)
  expect(fullRate(29.72)).toBe(29.72)
})
