import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

/** The module as it is in the page, or in a worker of its own. */
const another = async () => {
  vi.resetModules()
  return await import('./memory.ts')
}
/** Channels that were opened: they keep their process running. */
const channels: BroadcastChannel[] = []
const Real = BroadcastChannel
beforeEach(() =>
  vi.stubGlobal(
    'BroadcastChannel',
    class extends Real {
      constructor(name: string) {
        super(name)
        channels.push(this)
      }
    },
  ),
)
afterEach(() => {
  for (const channel of channels.splice(0)) channel.close()
  vi.unstubAllGlobals()
})
const shares = ['decoded', 'beside', 'passing', 'shown', 'followed', 'drawn'] as const
const megabyte = 1024 ** 2

describe('memory for pictures', () => {
  it('is a quarter of the machine’s where nobody has chosen, 1,536 MB at the most, and enough for some frames', async () => {
    const { usualMemory } = await another()
    expect([0.25, 2, 4, 8, undefined].map((gigabytes) => usualMemory(gigabytes))).toEqual([256, 512, 1024, 1536, 1536])
  })
  it('is not more than that for the clip, four beside it, what is shown, drawn in and followed together', async () => {
    const { mayHold, usualMemory } = await another()
    const [decoded, beside, , shown, followed, drawn] = shares.map(mayHold)
    expect(decoded! + 4 * beside! + shown! + followed! + drawn!).toBeLessThanOrEqual(usualMemory() * megabyte)
  })
  it('is shared with a film while it is made: what it takes is not drawn in beside it', async () => {
    const { filmHolds, filmMayHold, mayHold, usualMemory } = await another()
    const alone = mayHold('drawn')
    for (const held of [0.2, 0.5, 1].map((part) => part * filmMayHold())) {
      filmHolds(held)
      const [decoded, , passing, shown, , drawn] = shares.map(mayHold)
      // Who goes on working beside a large film still sees something: a little above what is chosen.
      expect(decoded! + passing! + shown! + drawn! + held).toBeLessThanOrEqual(1.2 * usualMemory() * megabyte)
      expect(drawn).toBeLessThanOrEqual(alone)
    }
    filmHolds(0)
    expect(mayHold('drawn')).toBe(alone)
  })
  it('is what was chosen in the page for workers that are there, and for those that start later', async () => {
    const page = await another()
    const early = await another()
    const late = await another()
    const told = vi.fn()
    early.onMemory(told)
    early.hearMemory()
    // It asked before there was a page to answer.
    const choose = page.sayMemory(512)
    await vi.waitFor(() => expect(early.mayHold('decoded')).toBe(page.mayHold('decoded')))
    choose(600)
    await vi.waitFor(() => expect(early.mayHold('decoded')).toBe(page.mayHold('decoded')))
    expect(told).toHaveBeenCalled()
    expect(late.mayHold('decoded')).not.toBe(page.mayHold('decoded'))
    late.hearMemory()
    await vi.waitFor(() => expect(late.mayHold('decoded')).toBe(page.mayHold('decoded')))
    // However little is chosen, some frames have room.
    choose(1)
    await vi.waitFor(() => expect(late.mayHold('beside')).toBe(48 * megabyte))
  })
})
