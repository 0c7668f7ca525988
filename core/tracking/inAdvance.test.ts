import { describe, expect, it } from 'vitest'
import { inAdvance } from './inAdvance.ts'

describe('Things asked for in advance', () => {
  it('are asked for a few before they are needed, in their order, each once, and none beyond the last', async () => {
    const asked: number[] = []
    const one = inAdvance(5, async (i) => (asked.push(i), 10 * i))
    expect(await one(1)).toBe(10)
    expect(asked).toEqual([0, 1, 2, 3])
    expect(await one(2)).toBe(20)
    expect(await one(4)).toBe(40)
    expect(asked).toEqual([0, 1, 2, 3, 4])
  })
  it('that fail say so when it is their turn, and not before', async () => {
    const one = inAdvance(4, async (i) => {
      if (i === 2) throw new Error('The clip was closed.')
      return i
    })
    expect(await one(0)).toBe(0)
    expect(await one(1)).toBe(1)
    await expect(one(2)).rejects.toThrow('The clip was closed.')
    expect(await one(3)).toBe(3)
  })
})
