import { describe, expect, it } from 'vitest'
import { arithmetic } from './arithmetic.ts'

describe('a number field', () => {
  it('reads numbers and simple arithmetic', () => {
    expect(arithmetic('12')).toBe(12)
    expect(arithmetic(' 12,5 px ')).toBe(12.5)
    expect(arithmetic('2+3*4')).toBe(14)
    expect(arithmetic('-(2+3)*4/2')).toBe(-10)
    expect(arithmetic('92 %')).toBe(92)
    expect(arithmetic('0.5 stops')).toBe(0.5)
    expect(arithmetic('5600 K')).toBe(5600)
  })
  it('says that it can not read nonsense', () => {
    for (const typed of ['', 'twelve', '1/0', '2+', '(3', '3 4)', 'alert(1)']) expect(arithmetic(typed)).toBeNull()
  })
})
