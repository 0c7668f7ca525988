import { expect, it } from 'vitest'
import { areaUnder } from './sureness.ts'

const list = (right: number[], wrong: number[]) => [
  ...right.map((value) => ({ value, right: true })),
  ...wrong.map((value) => ({ value, right: false })),
]

it('the area under the curve is the share of pairs in which what is right comes out higher', () => {
  expect(areaUnder(list([3, 4], [1, 2]))).toBe(1)
  expect(areaUnder(list([1, 2], [3, 4]))).toBe(0)
  // Of the six pairs, 5 over 4, 5 over 1, 5 over 0, 2 over 1 and 2 over 0 are in order.
  expect(areaUnder(list([5, 2], [4, 1, 0]))).toBeCloseTo(5 / 6)
})
