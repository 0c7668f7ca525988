import { describe, expect, it } from 'vitest'
import { counted } from './counted.ts'

/** Bytes of plain buffers that this thread counts. */
const counts = () => process.memoryUsage().arrayBuffers

describe('a frame in shared memory', () => {
  it('counts as much as it is large for who collects the garbage, for as long as it is there; small ones do not', () => {
    const before = counts()
    const frames = [1, 2, 3].map(() => counted({ data: new Uint8Array(new SharedArrayBuffer(2 ** 24)) }))
    const heavy = counts() - before
    counted({ data: new Uint8Array(new SharedArrayBuffer(2 ** 12)) })
    expect(heavy).toBeGreaterThanOrEqual(3 * 2 ** 24)
    expect(counts() - before).toBeLessThan(heavy + 2 ** 20)
    expect(frames.map(({ data }) => data.byteLength)).toEqual([2 ** 24, 2 ** 24, 2 ** 24])
  })

  it('in plain memory is counted anyway', () => {
    const plain = { data: new Uint8Array(2 ** 24) }
    const before = counts()
    expect(counted(plain)).toBe(plain)
    expect(counts() - before).toBeLessThan(2 ** 20)
  })
})
