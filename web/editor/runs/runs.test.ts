import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Diff } from '#core/records/diff.ts'
import { makeKey } from '#core/records/make.ts'
import { Records } from '#core/records/records.ts'
import type { Key, Part, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { makePart } from '#core/shapes/make.ts'
import { trackOf } from '#core/shapes/riding.ts'
import { WorkerEnded } from '../../frames/worker.ts'
import { type RunOrder, type RunResult, useRuns } from './runs.ts'

const part = makePart({ id: 'p', member: 'm', name: 'pole', kind: 'point', order: 1 }) as Part
const shot: Shot = { type: 'shot', id: 's', media: 'c', name: 'Shot', order: 1, in: 0, out: 10, join: 0 }
const world = vi.hoisted(() => ({
  records: null as unknown as Records,
  frame: 0,
  shotId: 's',
  commits: [] as { label: string; diff: Diff }[],
  told: [] as string[],
}))
vi.mock('vue-sonner', () => {
  const toast = (sentence: string) => world.told.push(sentence)
  return { toast: Object.assign(toast, { error: toast, warning: toast, dismiss: () => {} }) }
})
vi.mock('../../project/project.ts', () => ({
  newId: () => `new ${world.commits.length}`,
  useProject: () => ({
    records: () => world.records,
    childrenOf: (type: 'key', of: string) => world.records.childrenOf(type, of),
    get: (type: 'part' | 'shot', id: string) => world.records.get(type, id) ?? null,
    commit: (label: string, diff: Diff) => (world.records.apply(diff), world.commits.push({ label, diff }), true),
  }),
}))
vi.mock('../openShot.ts', () => ({
  useOpenShot: () => ({
    length: 10,
    get shot() {
      return world.records.get('shot', 's')
    },
    get shotId() {
      return world.shotId
    },
    track: (of: Part) => trackOf(world.records, of),
  }),
}))
vi.mock('../playback.ts', () => ({
  usePlayback: () => ({
    get frame() {
      return world.frame
    },
    stop() {},
    go: (frame: number) => void (world.frame = frame),
  }),
}))
vi.mock('../selection.ts', () => ({ useSelection: () => ({ range: null }) }))

const found = (frame: number): Key => makeKey('p', frame, [frame, 0], '', 0.9)
/** A run whose frames come when the test says so. */
function run(more: Partial<RunOrder<RunResult>> = {}) {
  let tell!: (frame: number) => void
  let progressed!: (share: number) => void
  let end!: (result: RunResult) => void
  let fail!: (error: Error) => void
  const asked: number[][] = []
  const stop = vi.fn()
  const order: RunOrder<RunResult> = {
    ...{ what: 'follow', part, span: 'on', nothingLeft: 'Nothing is left.', stop },
    label: (frames) => `Follow over ${frames}`,
    work: (from, to, one, share) => {
      asked.push([from, to])
      progressed = share
      tell = (frame) => one(frame, { points: [frame, 0] })
      return new Promise((done, refuse) => {
        end = done
        fail = refuse
      })
    },
    ...more,
  }
  const runs = useRuns()
  const over = runs.begin(order)
  return {
    runs,
    over,
    asked,
    stop,
    tell: (f: number) => tell(f),
    progressed: (share: number) => progressed(share),
    end: (r: RunResult) => end(r),
    fail: (e: Error) => fail(e),
  }
}

beforeEach(() => {
  setActivePinia(createPinia())
  world.records = new Records([shot, part, makeKey('p', 0, [0, 0]), makeKey('p', 6, [6, 0])])
  world.commits.length = world.told.length = 0
  world.frame = 0
  world.shotId = 's'
})

describe('a run', () => {
  it('shows how far it is from its first frame on, live, with the playhead on it', () => {
    const { runs, tell, asked } = run()
    expect(asked).toEqual([[1, 5]])
    expect(runs.run).toMatchObject({ what: 'follow', part: 'p', total: 5 })
    expect(runs.progress).toBe(0)
    const clock = vi.spyOn(performance, 'now').mockReturnValue(1000)
    tell(1)
    expect(world.frame).toBe(1)
    // Frames that come faster than anybody sees are not all gone to.
    clock.mockReturnValue(1030)
    tell(2)
    expect(runs.progress).toBeCloseTo(0.4)
    expect(world.frame).toBe(1)
    clock.mockReturnValue(1200)
    tell(3)
    expect(world.frame).toBe(3)
    clock.mockRestore()
    expect(runs.live(part, 2)).toEqual({ points: [2, 0] })
    expect(runs.live(part, 4)).toBeUndefined()
  })
  it('whose work is more than finding frames says itself how far it is', () => {
    const { runs, tell, progressed } = run()
    progressed(0.1)
    expect(runs.progress).toBe(0.1)
    for (const frame of [1, 2, 3, 4, 5]) tell(frame)
    progressed(0.55)
    expect(runs.progress).toBe(0.55)
  })
  it('goes to the frame where a hand would help most, but not where the user ended it', async () => {
    for (const stops of [false, true]) {
      world.frame = 0
      const { runs, over, tell, end } = run()
      tell(4)
      if (stops) runs.stop()
      end({ keys: [found(3), found(4)], endings: [], look: 3 })
      expect(await over).toMatchObject({ look: stops ? null : 3 })
      expect(world.frame).toBe(stops ? 0 : 3)
      world.records.apply({ put: [], remove: [3, 4].map((frame) => ({ type: 'key', id: found(frame).id })) })
    }
  })
  it('is kept as one change when it is over, and the playhead comes home', async () => {
    const { runs, over, tell, end } = run()
    tell(5)
    end({ keys: [1, 2, 3, 4, 5].map(found), endings: [] })
    await over
    expect(runs.run).toBeNull()
    expect(world.commits.map((one) => one.label)).toEqual(['Follow over 5'])
    expect(world.records.childrenOf('key', 'p').map((key) => key.frame)).toEqual([0, 1, 2, 3, 4, 5, 6])
    expect(world.frame).toBe(0)
  })
  it('goes where it ended before its time', async () => {
    const { over, end } = run()
    end({ keys: [found(1)], endings: [{ frame: 2 }] })
    await over
    expect(world.frame).toBe(2)
  })
  it('among several is a share of all, is called like all, and the next one begins where this one did', async () => {
    world.frame = 1
    const among = { place: 1, count: 4, label: 'Follow all', group: 'all' }
    const { runs, over, tell, progressed, end } = run({ among })
    progressed(0.5)
    expect(runs.progress).toBeCloseTo(1.5 / 4)
    tell(2)
    end({ keys: [found(2)], endings: [{ frame: 3 }], look: 2 })
    await over
    expect(world.commits.map((one) => one.label)).toEqual(['Follow all'])
    expect(world.frame).toBe(1)
  })
  it('that is stopped, the first one too, keeps what it found and lets earlier keys behind that stand', async () => {
    world.records.apply({ put: [found(4)], remove: [] })
    const { runs, over, stop, tell, end } = run()
    tell(1)
    expect(runs.stop()).toBe(true)
    expect(stop).toHaveBeenCalledOnce()
    expect(runs.stopping).toBe(true)
    end({ keys: [found(1)], endings: [] })
    await over
    expect(world.records.childrenOf('key', 'p').map((key) => key.frame)).toEqual([0, 1, 4, 6])
    expect(runs.stop()).toBe(false)
  })
  it('that fails changes nothing, says why, and another one can begin', async () => {
    const first = run()
    first.tell(3)
    first.fail(new Refusal('The clip ends before its frame 4.'))
    await first.over
    expect(world.told).toEqual(['The clip ends before its frame 4.'])
    expect(world.commits).toEqual([])
    expect(world.frame).toBe(0)
    const second = run()
    second.end({ keys: [found(1)], endings: [] })
    await second.over
    expect(world.commits).toHaveLength(1)
  })
  it('whose worker was ended on purpose goes silently', async () => {
    const { runs, over, fail } = run()
    fail(new WorkerEnded())
    await over
    expect(runs.run).toBeNull()
    expect(world.told).toEqual([])
  })
  it('marks the part away where it was not in the picture, in the same step', async () => {
    const one = run()
    one.end({ keys: [found(1)], endings: [], aways: [{ from: 2, to: 4 }] })
    await one.over
    expect(world.commits).toHaveLength(1)
    expect(world.commits[0]!.label).toBe('Follow over 1')
    expect(trackOf(world.records, part).aways).toMatchObject([{ from: 2, to: 4 }])
  })
  it('does not take the playhead along in another shot, and is kept all the same', async () => {
    const { over, tell, end } = run()
    world.shotId = 'other'
    world.frame = 8
    tell(2)
    end({ keys: [found(1), found(2)], endings: [{ frame: 3 }] })
    await over
    expect(world.frame).toBe(8)
    expect(world.commits).toHaveLength(1)
  })
  it('hears no word of a frame after its end', async () => {
    const { runs, over, tell, end } = run()
    end({ keys: [], endings: [] })
    await over
    tell(4)
    expect(world.frame).toBe(0)
    expect(runs.live(part, 4)).toBeUndefined()
  })
  it('of a part that was deleted meanwhile leaves nothing', async () => {
    const { over, end } = run()
    world.records.apply({ put: [], remove: [{ type: 'part', id: 'p' }] })
    end({ keys: [found(1)], endings: [] })
    await over
    expect(world.commits).toEqual([])
  })
  it('of a shot that got other frames meanwhile is not laid on those, and says so', async () => {
    const { over, end } = run()
    const timing = [{ from: 0, step: 0.5, length: 20, between: 'blended' as const }]
    world.records.apply({ put: [{ ...shot, timing }], remove: [] })
    end({ keys: [found(1)], endings: [] })
    await over
    expect(world.commits).toEqual([])
    expect(world.told).toEqual([expect.stringMatching(/other frames now.*Begin again/)])
  })
  it('does not begin beside another one, nor where no frame is left', () => {
    const { runs } = run()
    const second = run()
    expect(second.asked).toEqual([])
    expect(runs.run).not.toBeNull()
    setActivePinia(createPinia())
    world.records.apply({ put: [makeKey('p', 1, [0, 0])], remove: [] })
    expect(run().asked).toEqual([])
    expect(world.told).toEqual(['Nothing is left.'])
  })
})
