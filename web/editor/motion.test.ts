import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import { Refusal } from '#core/refusal.ts'

/** The world around the store: the open shot, its decoder and the worker that reads the motion. */
const world = vi.hoisted(() => ({
  opened: null as unknown as Record<string, unknown>,
  playback: null as unknown as { frame: number; playing: boolean; stop: () => void; go: (frame: number) => void },
  decoded: (_: number): Promise<unknown> => Promise.resolve({}),
  plan: [] as { frame: number; part: string }[],
  busy: false,
  learned: [] as number[],
  told: [] as string[],
  changed: (_: unknown, __: unknown) => {},
}))
vi.mock('vue-sonner', () => {
  const toast = (sentence: string) => world.told.push(sentence)
  return { toast: Object.assign(toast, { error: toast }) }
})
vi.mock('../frames/worker.ts', () => ({
  started: () => ({
    remote: {
      start: async () => {},
      learn: async (frame: number) => void world.learned.push(frame),
      plan: async () => world.plan,
      measures: async () => null,
      checks: async () => [],
      apply: async () => {},
    },
    stop: () => {},
  }),
}))
vi.mock('../project/project.ts', () => ({
  useProject: () => ({
    records: () => new Map(),
    childrenOf: () => [{ frame: 0 }, { frame: 9 }],
    subscribe: (told: typeof world.changed) => {
      world.changed = told
    },
  }),
}))
vi.mock('./openShot.ts', () => ({ useOpenShot: () => world.opened }))
vi.mock('./playback.ts', () => ({ usePlayback: () => world.playback }))
vi.mock('./selection.ts', () => ({ useSelection: () => reactive({ partId: 'p' }) }))
vi.mock('./runs/followWishes.ts', () => ({ followWishes: { value: { unsure: 0.5 } } }))
vi.stubGlobal('Worker', class {})

import { useMotion } from './motion.ts'

beforeEach(() => {
  setActivePinia(createPinia())
  world.learned.length = world.told.length = 0
  world.plan = []
  world.busy = false
  world.decoded = () => Promise.resolve({})
  world.opened = reactive({
    ...{ shotId: 's', cut: 's', shot: { in: 5 }, media: { width: 64, height: 36 }, length: 10, trouble: '' },
    pictures: { isBusy: () => world.busy, decoded: (frame: number) => world.decoded(frame) },
  })
  world.playback = reactive({
    frame: 0,
    playing: false,
    stop() {},
    go(frame: number) {
      world.playback.frame = frame
    },
  })
  const motion = useMotion()
  motion.stop()
})

describe('the key plan', () => {
  it('is read from every picture of the shot, and leads to the frame that deserves a key most', async () => {
    const motion = useMotion()
    motion.start()
    await vi.waitFor(() => expect(motion.read).toBe(1), { timeout: 30_000 })
    expect(world.learned).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9])
    world.plan = [
      { part: 'p', frame: 4 },
      { part: 'p', frame: 7 },
    ]
    expect(await motion.goToPlanned()).toBe(true)
    expect(world.playback.frame).toBe(4)
  })
  it('does not lead again to what was looked at and left, until a key beside it changes', async () => {
    const motion = useMotion()
    motion.start()
    world.plan = [
      { part: 'p', frame: 4 },
      { part: 'p', frame: 7 },
    ]
    await motion.goToPlanned()
    await motion.goToPlanned()
    expect(world.playback.frame).toBe(7)
    world.plan = [{ part: 'p', frame: 4 }]
    expect(await motion.goToPlanned()).toBe(false)
    const key = { type: 'key', part: 'p', frame: 9 }
    world.changed({ put: [key] }, { put: [] })
    expect(await motion.goToPlanned()).toBe(true)
    expect(world.playback.frame).toBe(4)
  })
  it('says that nothing is left once all was read, and waits for the reading until then', async () => {
    const motion = useMotion()
    world.busy = true
    motion.start()
    const going = motion.goToPlanned()
    await new Promise((done) => setTimeout(done, 150))
    expect(world.told).toEqual([])
    world.busy = false
    expect(await going).toBe(false)
    expect(world.told).toEqual([expect.stringMatching(/nothing more to propose/)])
  })
  it('does not wait for ever where a picture can not be read: it says so', async () => {
    const motion = useMotion()
    world.decoded = (frame) =>
      frame === 3 ? Promise.reject(new Refusal('The clip ends before its frame 9.')) : Promise.resolve({})
    motion.start()
    expect(await motion.goToPlanned()).toBe(false)
    expect(world.told).toEqual(['The plan knows only what was read of the clip. The clip ends before its frame 9.'])
    expect(world.learned).toEqual([0, 1, 2])
  })
  it('does not wait for ever for a clip that could not be opened', async () => {
    const motion = useMotion()
    world.busy = true
    world.opened.trouble = 'This browser can not decode the clip.'
    motion.start()
    expect(await motion.goToPlanned()).toBe(false)
    expect(world.told[0]).toMatch(/can not decode the clip/)
  })
})
