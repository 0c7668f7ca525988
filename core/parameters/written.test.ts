import { describe, expect, it } from 'vitest'
import { valueOf, writtenOf } from './written.ts'

describe('a number before its unit', () => {
  it('is a share times 100, and by how much it is more or less where 1 changes nothing', () => {
    expect(writtenOf({ unit: '%' }, 0.4)).toBe(40)
    expect(writtenOf({ unit: '%', neutral: 1 }, 1.25)).toBe(25)
    expect(writtenOf({ unit: '%', neutral: 1 }, 0)).toBe(-100)
    expect(writtenOf({ unit: 'K', neutral: 6500 }, 4000)).toBe(4000)
  })
  it('is read back as it was written', () => {
    for (const p of [{ unit: '%', neutral: 1 }, { unit: '%' }, { unit: 'stops', neutral: 0 }] as const)
      for (const value of [0, 0.35, 1, 2.5]) expect(valueOf(p, writtenOf(p, value))).toBeCloseTo(value, 12)
  })
})
