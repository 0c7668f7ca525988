import { describe, expect, it } from 'vitest'
import { startKernels } from '../kernels/engine.ts'
import { plainKernels } from '../kernels/plain.ts'
import { Scratch, Slot, withRoom } from './scratch.ts'

const mega = 1024 ** 2
const slots = { one: new Slot(), two: new Slot(), kept: new Slot() }
const withEngine = (bytes = 16 * mega) => new Scratch(startKernels(bytes))

describe('a scratch', () => {
  it('gives the same buffer for the same name, and a larger one where that is asked for', () => {
    for (const scratch of [withEngine(), new Scratch()]) {
      const first = scratch.floats(slots.one, 100).fill(3)
      expect(scratch.floats(slots.one, 50)[49]).toBe(3)
      expect(scratch.floats(slots.two, 100)).not.toEqual(first)
      expect(scratch.inner(slots.kept).floats(slots.one, 100, true)[0]).toBe(0)
      expect(first[0]).toBe(3)
      expect(scratch.floats(slots.one, 1000)).toHaveLength(1000)
    }
  })

  it('lays what passes in the same place, piece of work after piece of work', () => {
    const scratch = withEngine()
    const places = [1, 2, 3].map((value) =>
      scratch.passing(() => {
        const [one, two] = [scratch.floats(slots.one, 1e5), scratch.floats(slots.two, 1e5)]
        one.fill(value)
        two.fill(-value)
        expect(scratch.floats(slots.one, 1e5)[99_999]).toBe(value)
        return [one.byteOffset, two.byteOffset]
      }),
    )
    expect(places[1]).toEqual(places[0])
    expect(places[2]).toEqual(places[0])
    expect(scratch.held).toBeLessThan(1.1 * 2 * 4e5)
  })

  it('keeps what a piece of work around another one holds, and what is to last', () => {
    const scratch = withEngine()
    const kept = scratch.passing(() => {
      const outer = scratch.floats(slots.one, 1000).fill(1)
      const lasting = scratch.lasting(() => scratch.floats(slots.kept, 1000).fill(2))
      for (let k = 0; k < 3; k++)
        scratch.passing(() => {
          scratch.floats(slots.one, 1000).fill(7)
          scratch.floats(slots.two, 1000).fill(8)
        })
      expect(new Set(outer)).toEqual(new Set([1]))
      return lasting
    })
    scratch.passing(() => scratch.floats(slots.one, 5000).fill(9))
    expect(new Set(kept)).toEqual(new Set([2]))
    expect(scratch.floats(slots.kept, 1000).byteOffset).toBe(kept.byteOffset)
  })

  it('keeps zeros for those who put them back, also in what passes', () => {
    const scratch = withEngine()
    const zeros = () => scratch.passing(() => scratch.cleared(slots.one, 1000))
    zeros()[5] = 1
    scratch.passing(() => scratch.floats(slots.one, 4000).fill(4))
    expect(zeros()[5]).toBe(1)
    expect(zeros()[6]).toBe(0)
  })

  it('draws on where work after work asks for more than the memory holds at once', () => {
    const scratch = withEngine(8 * mega)
    for (let k = 0; k < 30; k++) withRoom(() => scratch.passing(() => scratch.floats(new Slot(), 1e6).fill(k)))
    expect(scratch.kernels).not.toBe(plainKernels)
    // What lasts and what passes meet: all goes on with plain arrays.
    const both = () =>
      withRoom(() =>
        scratch.passing(() => {
          const lasting = scratch.lasting(() => scratch.floats(slots.kept, 1e6).fill(1))
          return [scratch.floats(slots.one, 1e6).fill(2)[0], lasting[0]]
        }),
      )
    expect(both()).toEqual([2, 1])
    expect(scratch.kernels).toBe(plainKernels)
    expect(both()).toEqual([2, 1])
    expect(scratch.held).toBe(2 * 1.25 * 4e6)
  })

  it('lets go of what passed where the work fails', () => {
    const scratch = withEngine()
    const place = () => scratch.passing(() => scratch.floats(slots.one, 1000).byteOffset)
    const before = place()
    expect(() =>
      scratch.passing(() => {
        scratch.floats(slots.two, 1e5)
        throw new Error('no such colour')
      }),
    ).toThrow('no such colour')
    expect(place()).toBe(before)
  })
})
