import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Media, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { filmHolds, filmMayHold, mayHold, sayMemory, usualMemory } from './memory.ts'
import { Pictures, type Wanted } from './pictures.ts'
import type { DrawOrder, GraphicsState, ViewLayer } from './render.worker.ts'

interface Asked {
  frame: number
  layer: ViewLayer
  reduce: number
  draft: unknown
  finish: (colour?: number, bytes?: number, held?: number) => void
  fail: (error: Error) => void
}
/** What the two render workers were asked for and have not answered yet. */
const asked: Asked[] = []
const applied: unknown[] = []
/** What the workers answer one after the other when they are to draw with the graphics card, and what tells that it is gone. */
const graphicsStates: GraphicsState[] = []
let onLost = () => {}
vi.mock('./start.ts', () => ({
  rendererCount: () => 2,
  startDecoder: () => ({
    remote: {
      open: async () => {},
      readAhead: async () => {},
      serve: async () => {},
      held: async () => 0,
      pace: async () => 10,
    },
    stop: () => {},
  }),
  startRenderer: () => ({
    remote: {
      connect: async () => {},
      forget: async () => {},
      start: async () => {},
      apply: async (diff: unknown) => void applied.push(diff),
      letGo: async () => {},
      useGraphics: async (on: boolean, lost: () => void) => {
        onLost = lost
        return on ? graphicsStates.shift()! : { state: 'off' }
      },
      readingsAsked: async () => ({ seen: [], heard: [], mixed: [] }),
      draw: ({ frame, layer, reduce, draft }: DrawOrder) =>
        new Promise((done, refuse) => {
          const finish = (colour = 0, bytes = 4, held = 0) => {
            asked.splice(asked.indexOf(entry), 1)
            const pixels = new Uint8ClampedArray(bytes).fill(colour)
            done({ pixels, width: 1, height: 1, troubles: [], room: { held, most: 1 } })
          }
          const fail = (error: Error) => {
            asked.splice(asked.indexOf(entry), 1)
            refuse(error)
          }
          const entry: Asked = { frame, layer, reduce, draft, finish, fail }
          asked.push(entry)
        }),
    },
  }),
}))

const shot = { type: 'shot', id: 's', media: 'm', name: 'Shot', order: 1, in: 0, out: 10, join: 0 } as Shot
const media = { hash: 'h', rate: 24, matrix: 'bt709', range: 'limited', rotation: 0 } as Media
const settle = () => vi.advanceTimersByTimeAsync(0)
const want = (frame: number, more: Partial<Wanted> = {}): Wanted => ({
  frame,
  layer: 'result',
  member: '',
  strength: 1,
  result: { only: '', tinted: '', clipped: false, plate: false },
  reduce: 1,
  ahead: 1,
  exactly: false,
  from: 0,
  to: 9,
  around: 0,
  playing: false,
  ...more,
})
async function opened(wanted: Wanted): Promise<Pictures> {
  const pictures = new Pictures()
  await pictures.open(shot, media, [], [])
  pictures.want(wanted)
  await settle()
  return pictures
}
const answer = async (frame: number, colour = 0) => {
  asked.find((one) => one.frame === frame)!.finish(colour)
  await settle()
}
const frames = () => asked.map((one) => one.frame)
const colour = (pictures: Pictures) => pictures.shown()?.picture.pixels[0]

beforeEach(() => {
  vi.useFakeTimers()
  asked.length = applied.length = 0
})
afterEach(() => vi.useRealTimers())

describe('finished pictures', () => {
  it('the shown frame is drawn first, and a newer wish overtakes all that has not begun', async () => {
    const pictures = await opened(want(3))
    expect(frames()).toEqual([3])
    pictures.want(want(7))
    await settle()
    expect(frames()).toEqual([3, 7])
    await answer(7)
    expect(pictures.shown()?.fresh).toBe(true)
    // Frame 3 was left behind; what comes next lies ahead of the playhead.
    await answer(3)
    await vi.advanceTimersByTimeAsync(500)
    expect(frames()).toEqual([8, 9])
  })

  it('one worker at most reads ahead while the hand is busy; in a pause and while playing all do', async () => {
    const pictures = await opened(want(0))
    await answer(0)
    expect(frames()).toEqual([1])
    await vi.advanceTimersByTimeAsync(500)
    expect(frames()).toEqual([1, 2])
    await answer(1)
    await answer(2)
    pictures.want(want(0, { playing: true }))
    await settle()
    // The next one lies ready for each of them.
    expect(frames()).toHaveLength(4)
  })

  it('take no more memory than they may: those go first that are wanted last, and come back where there is room again', async () => {
    const choose = sayMemory(256)
    const pictures = await opened(want(0))
    const draw = async () => {
      for (let i = 0; i < 12 && asked.length; i++) {
        asked[0]!.finish(0, 20e6)
        await vi.advanceTimersByTimeAsync(500)
      }
    }
    await draw()
    // Eight of 20 MB have room where nothing is taken to draw in; two of them stay free for what is asked for next.
    expect(pictures.countFresh('result', 0, 9)).toBe(6)
    expect(pictures.isFresh('result', 0)).toBe(true)
    expect(await pictures.held()).toBeLessThanOrEqual(mayHold('shown') + mayHold('drawn'))
    choose(2048)
    await settle()
    await draw()
    expect(pictures.countFresh('result', 0, 9)).toBe(10)
    choose(256)
    expect(pictures.countFresh('result', 0, 9)).toBe(8)
    expect(pictures.isFresh('result', 0)).toBe(true)
  })

  it('of a large clip fewer are kept: its decoder holds frames of its own', async () => {
    const choose = sayMemory(1024)
    const ready = async (size: { width: number; height: number }) => {
      asked.length = 0
      const pictures = new Pictures()
      await pictures.open(shot, { ...media, ...size }, [], [])
      pictures.want(want(0))
      await settle()
      for (let i = 0; i < 12 && asked.length; i++) {
        asked[0]!.finish(0, 20e6)
        await vi.advanceTimersByTimeAsync(500)
      }
      return pictures.countFresh('result', 0, 9)
    }
    expect(await ready({ width: 1920, height: 1080 })).toBe(10)
    expect(await ready({ width: 3840, height: 2160 })).toBe(6)
    choose(usualMemory())
  })

  it('neighbours that are shown, too, come by their nearness, before what lies ahead', async () => {
    const pictures = await opened(want(1, { around: 3 }))
    await vi.advanceTimersByTimeAsync(500)
    const drawn: number[] = []
    while (asked.length) {
      drawn.push(asked[0]!.frame)
      await answer(asked[0]!.frame)
    }
    expect(drawn).toEqual([1, 2, 0, 3, 4, 5, 6, 7, 8, 9])
    expect(pictures.shown()?.fresh).toBe(true)
  })

  it('a change makes its own frames stale and no others; the stale picture is shown until the new one is there', async () => {
    const pictures = await opened(want(2, { from: 2, to: 4 }))
    await vi.advanceTimersByTimeAsync(500)
    for (const frame of [2, 3, 4]) await answer(frame, 50)
    const diff = { put: [], remove: [] }
    pictures.change(diff, { from: 0, to: 2 })
    expect(applied).toEqual([diff, diff])
    expect([2, 3, 4].map((frame) => pictures.isFresh('result', frame))).toEqual([false, true, true])
    expect(pictures.shown()).toMatchObject({ fresh: false })
    expect(colour(pictures)).toBe(50)
    await settle()
    expect(frames()).toEqual([2])
    await answer(2, 90)
    expect(colour(pictures)).toBe(90)
    expect(pictures.shown()?.fresh).toBe(true)
  })

  it('a picture that was begun before a change does not count as fresh', async () => {
    const pictures = await opened(want(5, { from: 5, to: 5 }))
    pictures.change({ put: [], remove: [] }, { from: 5, to: 5 })
    await answer(5, 10)
    expect(pictures.isFresh('result', 5)).toBe(false)
    expect(frames()).toEqual([5])
    await answer(5, 20)
    expect(pictures.isFresh('result', 5)).toBe(true)
  })

  it('plates never go stale', async () => {
    const pictures = await opened(want(1, { layer: 'plate', from: 1, to: 1 }))
    await answer(1)
    pictures.change({ put: [], remove: [] }, { from: 0, to: Infinity })
    await vi.advanceTimersByTimeAsync(500)
    expect(frames()).toEqual([])
    expect(pictures.isFresh('plate', 1)).toBe(true)
  })

  it('what is dragged is drawn newest first, and stays in sight until the committed frame is drawn', async () => {
    const pictures = await opened(want(4, { from: 4, to: 4 }))
    await answer(4, 1)
    const drafts = [1, 2, 3].map(() => ({ put: [], remove: [] }))
    for (const draft of drafts) pictures.setDraft(4, draft)
    await settle()
    expect(asked.map((one) => one.draft)).toEqual([drafts[0]])
    await answer(4, 60)
    expect(colour(pictures)).toBe(60)
    // The one in between was never begun.
    expect(asked.map((one) => one.draft)).toEqual([drafts[2]])
    await answer(4, 70)
    pictures.change({ put: [], remove: [] }, { from: 4, to: 4 })
    pictures.setDraft(4, null)
    expect(colour(pictures)).toBe(70)
    await settle()
    expect(asked.map((one) => one.draft)).toEqual([null])
    await answer(4, 80)
    expect(colour(pictures)).toBe(80)
    expect(pictures.shown()?.fresh).toBe(true)
  })

  it('a coarser size that is chosen starts over; what was under way for the finer one is dropped', async () => {
    const pictures = await opened(want(0, { from: 0, to: 0 }))
    pictures.want(want(0, { from: 0, to: 0, reduce: 2, ahead: 2, exactly: true }))
    await answer(0, 33)
    expect(pictures.shown()).toBeNull()
    await answer(0, 44)
    expect(colour(pictures)).toBe(44)
  })

  const byHand = { ahead: 2, from: 3, to: 4 } as const
  const sizes = () => asked.map(({ frame, reduce }) => [frame, reduce])

  it('a picture is coarse at first and fine once the hand rests; those ahead stay coarse', async () => {
    const pictures = await opened(want(3, byHand))
    expect(sizes()).toEqual([[3, 2]])
    await answer(3, 20)
    expect(pictures.shown()).toMatchObject({ fresh: false, picture: { reduce: 2 } })
    expect(colour(pictures)).toBe(20)
    await answer(4)
    expect(sizes()).toEqual([])
    await vi.advanceTimersByTimeAsync(250)
    expect(sizes()).toEqual([[3, 1]])
    await answer(3, 30)
    expect(pictures.shown()).toMatchObject({ fresh: true, picture: { reduce: 1 } })
    expect(colour(pictures)).toBe(30)
    // On the way back the fine one is still there; a change asks for the coarse one first.
    pictures.want(want(4, byHand))
    pictures.want(want(3, byHand))
    expect(pictures.shown()?.fresh).toBe(true)
    pictures.change({ put: [], remove: [] }, { from: 3, to: 3 })
    await settle()
    expect(sizes()).toEqual([[3, 2]])
    expect(colour(pictures)).toBe(30)
  })

  it('a coarse picture never takes the place of a fine one that is as new', async () => {
    const pictures = await opened(want(3, byHand))
    await vi.advanceTimersByTimeAsync(500)
    // The renderer that draws finely is free again; the other one is still at the next frame.
    const coarse = asked[1]!
    await answer(3)
    pictures.want(want(4, byHand))
    await answer(3)
    await vi.advanceTimersByTimeAsync(250)
    expect(sizes()).toEqual([
      [4, 2],
      [4, 1],
    ])
    asked[1]!.finish(30)
    await settle()
    coarse.finish(20)
    await settle()
    expect(colour(pictures)).toBe(30)
  })

  it('a picture is no finer than the memory has room to draw it in, and as fine again where that is more', async () => {
    const choose = sayMemory(256)
    const pictures = await opened(want(3, { ...byHand, to: 3 }))
    // Four times as much at full size would be 328 MB.
    asked[0]!.finish(20, 4, 88 * 1024 ** 2)
    await vi.advanceTimersByTimeAsync(500)
    expect(sizes()).toEqual([])
    expect(pictures.shown()?.fresh).toBe(true)
    choose(1024)
    expect(pictures.shown()?.fresh).toBe(false)
    await settle()
    const fine = asked.find(({ frame, reduce }) => frame === 3 && reduce === 1)
    // What is drawn in counts, too.
    fine!.finish(30, 4, 300 * 1024 ** 2)
    await settle()
    expect(await pictures.held()).toBeGreaterThan(300 * 1024 ** 2)
    expect(pictures.shown()?.fresh).toBe(true)
  })

  it('is drawn in what a film leaves while that is made, and as finely as before once it is done', async () => {
    sayMemory(1024)
    const pictures = await opened(want(3, { ...byHand, to: 3 }))
    asked[0]!.finish(20, 4, 24 * 1024 ** 2)
    await vi.advanceTimersByTimeAsync(500)
    asked.find(({ reduce }) => reduce === 1)!.finish(30, 4, 300 * 1024 ** 2)
    await settle()
    expect(pictures.atRest()).toBe(1)
    filmHolds(filmMayHold())
    await settle()
    // What was drawn in is given back; what is taken anew is no more than there is room for.
    expect(await pictures.held()).toBeLessThan(1024)
    pictures.change({ put: [], remove: [] }, { from: 3, to: 3 })
    await settle()
    asked[0]!.finish(40, 4, 88 * 1024 ** 2)
    await vi.advanceTimersByTimeAsync(500)
    expect([sizes(), pictures.isLimited()]).toEqual([[], true])
    filmHolds(0)
    await settle()
    expect([sizes(), pictures.isLimited()]).toEqual([[[3, 1]], false])
  })

  it('what takes longer than the hand waits is dragged at a coarser size, and made finer when the hand holds still', async () => {
    const pictures = await opened(want(3, { ...byHand, to: 3 }))
    await vi.advanceTimersByTimeAsync(120)
    await answer(3)
    const draft = { put: [], remove: [] }
    pictures.setDraft(3, draft)
    await settle()
    expect(sizes()).toEqual([[3, 4]])
    await answer(3, 40)
    expect(colour(pictures)).toBe(40)
    await vi.advanceTimersByTimeAsync(250)
    expect(sizes()).toEqual([[3, 2]])
    await answer(3, 50)
    expect(colour(pictures)).toBe(50)
    expect(sizes()).toEqual([])
  })

  it('what can not be made as fast as it plays is made coarse first, and finer once all of it is there', async () => {
    const pictures = await opened(want(3, byHand))
    await vi.advanceTimersByTimeAsync(150)
    await answer(3)
    pictures.want(want(3, { ...byHand, playing: true }))
    pictures.change({ put: [], remove: [] }, { from: 0, to: 9 })
    await settle()
    // Frame 4 was under way at half size when it changed. Finer ones come once all are there or being made.
    expect(sizes()).toEqual([
      [4, 2],
      [3, 4],
      [4, 4],
      [3, 2],
    ])
    await answer(3)
    expect(pictures.shown()?.fresh).toBe(true)
    await answer(4)
    expect(sizes()).toContainEqual([4, 4])
    await answer(4)
    await settle()
    expect(sizes().map(([, reduce]) => reduce)).toEqual([2, 2])
  })

  describe('of a long shot whose pictures take longer than they are shown', () => {
    const long = { reduce: 2, ahead: 2, to: 59 } as const
    const diff = { put: [], remove: [] }
    /** Answers what is asked for, each after so many milliseconds, so often; gives what it was: frame and size. */
    const answerAll = async (count: number, ms: number) => {
      const all: [frame: number, size: number][] = []
      for (let i = 0; i < count && asked.length; i++) {
        const [first] = asked as [Asked]
        all.push([first.frame, first.reduce])
        await vi.advanceTimersByTimeAsync(ms)
        first.finish()
        await settle()
      }
      return all
    }
    const openedLong = async () => {
      const pictures = new Pictures()
      await pictures.open({ ...shot, out: 60 }, media, [], [])
      pictures.want(want(0, long))
      await vi.advanceTimersByTimeAsync(500)
      await answerAll(80, 0)
      expect(pictures.countFresh('result', 0, 59)).toBe(60)
      return pictures
    }

    it('those of the next second are coarse at first, the others are made once', async () => {
      const pictures = await openedLong()
      pictures.change(diff, { from: 0, to: 59 })
      pictures.want(want(0, { ...long, playing: true }))
      await settle()
      const first = await answerAll(12, 200)
      expect(first.at(-1)![1]).toBe(4)
      const rest = await answerAll(100, 0)
      const coarse = [...first, ...rest].filter(([, size]) => size === 4)
      expect(coarse.length).toBeGreaterThan(10)
      expect(coarse.length).toBeLessThan(36)
      expect(pictures.countFresh('result', 0, 59)).toBe(60)
    })

    it('none is made coarser as long as enough of them are ready', async () => {
      const pictures = await openedLong()
      pictures.change(diff, { from: 20, to: 59 })
      pictures.want(want(0, { ...long, playing: true }))
      await settle()
      expect((await answerAll(12, 200)).map(([, size]) => size)).toEqual(Array(12).fill(2))
      // The playhead is where few are left.
      pictures.want(want(17, { ...long, playing: true }))
      pictures.change(diff, { from: 20, to: 59 })
      await settle()
      expect((await answerAll(12, 200)).map(([, size]) => size)).toContain(4)
    })
  })

  it('what plays faster than pictures are made is drawn where it will be by then; the last one stands in until then', async () => {
    const pictures = await opened(want(0, { to: 9 }))
    // A picture takes as long as three frames are shown.
    await vi.advanceTimersByTimeAsync(110)
    await answer(0, 10)
    const playing = (frame: number) => pictures.want(want(frame, { to: 9, playing: true }))
    playing(1)
    await settle()
    const drawn = frames().filter((frame) => frame !== 1)
    // The worker that is free makes the one that is shown then; what lies ready for it comes as much later.
    expect(drawn[0]).toBe(4)
    expect(drawn.slice(1).every((frame) => frame >= 7)).toBe(true)
    expect(pictures.shown()).toMatchObject({ frame: 0, fresh: true })
    await answer(4, 40)
    playing(4)
    expect(pictures.shown()).toMatchObject({ frame: 4, fresh: true })
    playing(5)
    expect(pictures.shown()).toMatchObject({ frame: 4, fresh: true })
    expect(colour(pictures)).toBe(40)
    // Where it stops the frame itself is meant.
    pictures.want(want(6, { to: 9 }))
    expect(pictures.shown()).toBeNull()
  })

  it('stops asking after a failure until something else is wanted', async () => {
    const pictures = await opened(want(0))
    const sentences: string[] = []
    pictures.onError = (sentence) => sentences.push(sentence)
    asked[0]!.fail(new Refusal('The clip ends before its frame 9.'))
    await vi.advanceTimersByTimeAsync(500)
    expect(sentences).toEqual(['The clip ends before its frame 9.'])
    expect(frames()).toEqual([])
    pictures.want(want(0))
    await settle()
    expect(frames()).toEqual([0])
    await answer(0, 12)
    expect(colour(pictures)).toBe(12)
  })
})

describe('the graphics card', () => {
  it('is said to draw only where every worker has one, and pictures are then drawn anew', async () => {
    const pictures = await opened(want(3))
    const told: string[] = []
    pictures.onGraphics = ({ state }) => told.push(state)
    graphicsStates.push({ state: 'on', unproven: [] }, { state: 'none' })
    await pictures.useGraphics(true)
    expect(told).toEqual(['tried', 'none'])
    for (const one of [...asked]) one.finish()
    await settle()
    expect(pictures.shown()!.fresh).toBe(false)

    graphicsStates.push({ state: 'on', unproven: [] }, { state: 'on', unproven: [] })
    await pictures.useGraphics(true)
    expect(told.slice(2)).toEqual(['tried', 'on'])
    onLost()
    expect(told.at(-1)).toBe('lost')
  })

  it('that is lost after it was switched off is nothing to tell', async () => {
    const pictures = await opened(want(3))
    graphicsStates.push({ state: 'on', unproven: [] }, { state: 'on', unproven: [] })
    await pictures.useGraphics(true)
    const before = onLost
    await pictures.useGraphics(false)
    const told: string[] = []
    pictures.onGraphics = ({ state }) => told.push(state)
    before()
    expect(told).toEqual([])
  })
})
