import { expect, it, vi } from 'vitest'
import { leaveOut, passedIn, ringBytes, ringHead, ringIn, waitingIn } from './soundRing.ts'

const block = 128

interface Player {
  port: { onmessage(event: { data: SharedArrayBuffer | null }): void }
  process(inputs: unknown, outputs: Float32Array[][]): boolean
}

/** The player as the browser makes it, and what it plays next of a ring in which every sample is its own number. */
async function play(written: number) {
  let made: (new () => Player) | null = null
  vi.stubGlobal(
    'AudioWorkletProcessor',
    class {
      port = {}
    },
  )
  vi.stubGlobal('registerProcessor', (_: string, processor: new () => Player) => (made = processor))
  vi.resetModules()
  await import('./player.worklet.ts')
  const player = new made!()
  const memory = new SharedArrayBuffer(ringBytes)
  const ring = ringIn(memory)
  for (let i = 0; i < written; i++) ring.left[i] = ring.right[i] = i
  Atomics.store(ring.head, ringHead.written, written)
  return {
    ring,
    begin: () => player.port.onmessage({ data: memory }),
    next() {
      const out = [new Float32Array(block), new Float32Array(block)]
      player.process([], [out])
      return out[0]!
    },
  }
}

it('plays what was written, one block after the other, and fades out where nothing is left', async () => {
  const { ring, begin, next } = await play(2 * block)
  begin()
  expect([next()[0], next()[0]]).toEqual([0, block])
  const silence = next()
  expect(silence[0]).toBeGreaterThan(silence[64]!)
  expect(silence[block - 1]).toBe(0)
  expect(Atomics.load(ring.head, ringHead.missed)).toBe(1)
  expect(passedIn(ring)).toBe(2 * block)
})

it('what is left out is faded over within a block; what follows is played from there on', async () => {
  const { ring, begin, next } = await play(12_000)
  // Left out before it began: nothing of it is heard.
  leaveOut(ring, 1000)
  begin()
  expect(next()[0]).toBe(1000)
  leaveOut(ring, 3000)
  expect(passedIn(ring)).toBe(block + 4000)
  const faded = next()
  expect(faded[0]).toBeLessThan(1000 + block + 100)
  expect(faded[block - 1]).toBe(4000 + 2 * block - 1)
  expect(next()[0]).toBe(4000 + 2 * block)
})

it('never more is left out than is there', async () => {
  const { ring } = await play(6000)
  leaveOut(ring, 20_000)
  expect(waitingIn(ring)).toBe(2048)
  leaveOut(ring, 20_000)
  expect(waitingIn(ring)).toBe(2048)
})
