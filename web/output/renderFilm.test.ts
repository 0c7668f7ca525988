import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Stretch } from '#core/records/film.ts'
import type { Media, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { fileForms } from '#core/outgoing/forms.ts'
import { giveBack } from '../frames/filmWorkers.ts'
import { filmMayHold, mayHold } from '../frames/memory.ts'
import { renderFilm, type RenderOrder, videoOptions } from './renderFilm.ts'

/** What the workers did, and what they shall fail at. */
const world = vi.hoisted(() => ({
  written: [] as { shot: string; frame: number; time: number; duration: number }[],
  pictures: [] as string[],
  sound: null as unknown,
  opened: [] as string[],
  discarded: 0,
  running: 0,
  started: 0,
  fails: '',
  there: true,
  /** Bytes that a renderer draws in, and the renderers that drew frames, by frame. */
  held: 0,
  drewBy: [] as number[],
  /** From which frame on they draw in twice as much. */
  moreFrom: Infinity,
  /** Renderers that gave back what they drew in. */
  gaveBack: 0,
  /** What takes twenty milliseconds. */
  slow: '',
  trouble: null as { media: string; sentence: string } | null,
}))
vi.mock('../project/api.ts', () => ({ api: { footageAddress: (hash: string) => `/${hash}` } }))
vi.mock('../frames/clips.ts', () => ({
  Clips: class {
    // One that is open stays open.
    openOwn = async (media: Media) => (world.opened.at(-1) === media.id || world.opened.push(media.id), {})
    stop() {}
  },
}))
vi.mock('../frames/start.ts', () => {
  const running = <T>(remote: T) => {
    world.running++
    world.started++
    return { remote, stop: () => void world.running-- }
  }
  const drawn = async (order: { shot: string; frame: number }) => {
    if (world.fails === `${order.shot} ${order.frame}`) throw new Refusal('The clip ends before its frame.')
    // Frames become ready out of order: the later ones first.
    await new Promise((done) => setTimeout(done, world.slow === 'drawing' ? 20 * order.frame : order.frame % 3 ? 0 : 3))
    return { ...order, troubles: world.trouble ? [world.trouble] : [] }
  }
  return {
    rendererCount: () => 2,
    startRenderer: () => {
      const mine = world.started
      return running({
        start: async () => {},
        held: async () => world.held,
        letGo: async () => void world.gaveBack++,
        isThere: async () => world.there,
        readingsAsked: async () => ({ seen: [], heard: [], mixed: [] }),
        drawForVideo: async (order: { shot: string; frame: number }) => {
          world.drewBy[order.frame] = mine
          if (order.frame === world.moreFrom) world.held *= 2
          return {
            ...(await drawn(order)),
            ...{ data: Object.assign(new Uint8Array(1), order), width: 2, height: 2 },
          }
        },
        drawForPicture: async (order: { shot: string; frame: number }) => ({
          ...(await drawn(order)),
          file: new Uint8Array(1),
        }),
      })
    },
    startEncoder: () =>
      running({
        beginVideo: async (_: string, options: { sound: unknown }) => void (world.sound = options.sound),
        beginZip: async () => {},
        addFrame: async (
          data: { shot: string; frame: number },
          _w: number,
          _h: number,
          time: number,
          duration: number,
        ) => {
          if (world.slow === 'writing') await new Promise((done) => setTimeout(done, 20))
          world.written.push({ shot: data.shot, frame: data.frame, time, duration })
        },
        addPart: async (name: string) => void world.pictures.push(name),
        finish: async () => new File([], 'film'),
        soundTroubles: async () => [],
        discard: async () => void world.discarded++,
      }),
  }
})

const media = (id: string, more: Partial<Media> = {}) =>
  ({
    ...{ type: 'media', id, name: `${id}.mp4`, hash: id, width: 640, height: 360, rate: 24, variableRate: false },
    ...{ frames: 24, audio: '' },
    ...more,
  }) as Media
const shot = (id: string, clip: string, from = 0, out = 24) =>
  ({ type: 'shot', id, media: clip, in: from, out }) as Shot
const stretch = (one: Shot, clip: Media, from: number, to: number): Stretch => ({ shot: one, media: clip, from, to })
const steady = (count = 24, rate = 24) => Array.from({ length: count }, (_, i) => i / rate)
const order = (stretches: Stretch[], times: number[][], more: Partial<RenderOrder> = {}): RenderOrder => ({
  ...{ stretches, times, kind: 'mp4', content: 'over', of: '', name: 'My film: one', place: 'here' },
  records: stretches.flatMap((one) => [one.media, one.shot]),
  ...more,
})
const render = (given: RenderOrder, signal = new AbortController().signal, onFrame = (_: number) => {}) =>
  renderFilm(given, onFrame, signal)

beforeEach(() => {
  giveBack(null)
  Object.assign(world, {
    written: [],
    pictures: [],
    sound: null,
    opened: [],
    discarded: 0,
    running: 0,
    started: 0,
    fails: '',
    there: true,
    ...{ held: 0, moreFrom: Infinity, gaveBack: 0 },
    drewBy: [],
    trouble: null,
    slow: '',
  })
})

describe('a rendered file', () => {
  it('has the frames of a shot in their order and at their times, whichever is drawn first', async () => {
    const clip = media('a')
    const told: number[] = []
    const given = order([stretch(shot('s', 'a', 4, 16), clip, 0, 12)], [steady()])
    const { file, place } = await render(given, undefined, (done) => told.push(done))
    expect(file).toBeInstanceOf(File)
    expect(world.written.map((one) => one.frame)).toEqual([...Array(12).keys()])
    world.written.forEach(({ time, duration }, i) => {
      expect(time).toBeCloseTo(i / 24, 9)
      expect(duration).toBeCloseTo(1 / 24, 9)
    })
    expect(told).toEqual(Array.from({ length: 12 }, (_, i) => i + 1))
    expect(place).toBe('here')
    expect(world.discarded).toBe(0)
  })
  it('says what the rest waits for: drawing, or writing', async () => {
    const given = order([stretch(shot('s', 'a'), media('a'), 0, 9)], [steady()])
    for (const slow of ['drawing', 'writing'] as const) {
      world.slow = slow
      const told: unknown[] = []
      await renderFilm(given, (_, __, slowest) => told.push(slowest), new AbortController().signal)
      // The first frame pays for the start, and says nothing yet.
      expect(told[0]).toBeNull()
      expect(told.at(-1)).toBe(slow)
    }
  })
  it('of large frames is begun by one renderer; as many draw as the memory has room for, and it says where that is one', async () => {
    const large = media('a', { width: 3840, height: 2160 } as Partial<Media>)
    const film = async (held: number, clip: Media) => {
      Object.assign(world, { held, drewBy: [], slow: 'drawing' })
      const told: unknown[] = []
      const given = order([stretch(shot('s', 'a'), clip, 0, 9)], [steady()])
      const alone = mayHold('drawn')
      let beside = alone
      const hear = (_: number, __: number, slowest: unknown) => {
        told.push(slowest)
        beside = mayHold('drawn')
      }
      await renderFilm(given, hear, new AbortController().signal)
      // What it takes the page does not draw in meanwhile.
      expect([beside < alone, mayHold('drawn')]).toEqual([true, alone])
      return {
        first: new Set(world.drewBy.slice(0, 4)).size,
        last: new Set(world.drewBy.slice(5)).size,
        says: told.at(-1),
      }
    }
    expect(await film(filmMayHold() / 3, large)).toEqual({ first: 1, last: 2, says: 'drawing' })
    expect(await film(filmMayHold() / 1.5, large)).toEqual({ first: 1, last: 1, says: 'memory' })
    expect(await film(filmMayHold() / 3, media('a'))).toEqual({ first: 2, last: 2, says: 'drawing' })
  })
  it('is drawn by fewer where its later frames take more memory, and those that draw no more give theirs back', async () => {
    Object.assign(world, { held: filmMayHold() / 3, moreFrom: 30 })
    const long = media('a', { frames: 120 } as Partial<Media>)
    const given = order([stretch(shot('s', 'a', 0, 120), long, 0, 120)], [steady()])
    await renderFilm(given, () => {}, new AbortController().signal)
    expect(new Set(world.drewBy.slice(0, 40)).size).toBe(2)
    expect(new Set(world.drewBy.slice(60)).size).toBe(1)
    expect(world.gaveBack).toBeGreaterThan(0)
  })
  it('is made by the workers of the one before, which wait for a while and then go', async () => {
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    try {
      const film = async () => {
        const rendered = render(order([stretch(shot('s', 'a'), media('a'), 0, 4)], [steady()]))
        for (let i = 0; i < 60; i++) await vi.advanceTimersByTimeAsync(3)
        await rendered
      }
      await film()
      await film()
      // Two renderers and an encoder.
      expect(world).toMatchObject({ running: 3, started: 3 })
      await vi.advanceTimersByTimeAsync(60_000)
      expect(world.running).toBe(0)
    } finally {
      vi.useRealTimers()
    }
  })
  it('of a clip of variable rate keeps its times', async () => {
    const clip = media('a', { variableRate: true })
    const times = [0, 0.04, 0.1, 0.18, 0.2]
    await render(order([stretch(shot('s', 'a', 1, 5), clip, 0, 4)], [times]))
    expect(world.written.map((one) => +one.time.toFixed(3))).toEqual([0, 0.06, 0.14, 0.16])
    expect(world.written.map((one) => +one.duration.toFixed(3))).toEqual([0.06, 0.08, 0.02, 0.02])
  })
  it('of a film runs at the rate of its first shot: a clip of half of it shows every frame twice', async () => {
    const [first, slow] = [media('a'), media('b', { rate: 12 })]
    const stretches = [stretch(shot('s', 'a'), first, 0, 3), stretch(shot('t', 'b'), slow, 0, 3)]
    await render(order(stretches, [steady(), steady(24, 12)]))
    expect(world.written.map(({ shot, frame }) => `${shot}${frame}`).join(' ')).toBe('s0 s1 s2 t0 t0 t1 t1 t2 t2')
    expect(world.written.at(-1)!.time).toBeCloseTo(8 / 24, 9)
    expect(world.opened).toEqual(['a', 'b'])
  })
  it('has the sound of each clip where its shot begins', async () => {
    const [silent, loud] = [media('a'), media('b', { audio: 'aac' })]
    const stretches = [stretch(shot('s', 'a'), silent, 0, 6), stretch(shot('t', 'b', 12, 24), loud, 0, 12)]
    await render(order(stretches, [steady(), steady()]))
    expect(world.sound).toMatchObject({
      copy: null,
      mix: {
        ...{ seconds: expect.closeTo(0.75, 9), addresses: { a: '/a', b: '/b' } },
        shots: [
          { shot: 's', at: 0 },
          { shot: 't', at: expect.closeTo(0.25, 9) },
        ],
      },
    })
  })
  it('of one shot keeps its clip’s sound as it is, until anything is done to it', async () => {
    const loud = media('b', { audio: 'aac' })
    const one = shot('t', 'b', 12, 24)
    await render(order([stretch(one, loud, 0, 12)], [steady()]))
    expect(world.sound).toMatchObject({ copy: { address: '/b', from: 0.5, to: expect.closeTo(1, 9) } })
    await render(order([stretch({ ...one, level: -6 }, loud, 0, 12)], [steady()]))
    expect(world.sound).toMatchObject({ copy: null, mix: { seconds: expect.closeTo(0.5, 9) } })
    await render(order([stretch(one, media('b'), 0, 12)], [steady()]))
    expect(world.sound).toBeNull()
  })
  it('of pictures names them by their number, without what a file name can not hold', async () => {
    await render(order([stretch(shot('s', 'a'), media('a'), 0, 2)], [steady()], { kind: 'png' }))
    expect(world.pictures).toEqual(['My-film-one-00000.png', 'My-film-one-00001.png'])
  })
  it('of somebody who is away all the time says so; of nobody it is not made', async () => {
    const given = order([stretch(shot('s', 'a'), media('a'), 0, 3)], [steady()], { content: 'matte', of: 'Keeper' })
    await expect(render(given)).rejects.toThrow('There is no Keeper in it any more.')
    const keeper = {
      type: 'member',
      id: 'm',
      shot: 's',
      name: 'Keeper',
      kind: 'performer',
      colour: 0,
      order: 1,
    } as const
    const cast = { ...given, records: [...given.records, keeper] }
    expect((await render(cast)).troubles).toEqual([])
    world.there = false
    expect((await render(cast)).troubles).toEqual(['Keeper is away on all of these frames: the file shows nothing.'])
  })
  it('tells once which clip is not in it', async () => {
    world.trouble = { media: 'a', sentence: 'The clip is damaged.' }
    const { troubles } = await render(order([stretch(shot('s', 'a'), media('a'), 0, 5)], [steady()]))
    expect(troubles).toEqual(['a.mp4 is not in it: The clip is damaged.'])
  })
})

describe('a render that does not come to its end', () => {
  const given = () => order([stretch(shot('s', 'a'), media('a'), 0, 20)], [steady()])
  it('says why, and leaves neither a file nor a worker', async () => {
    world.fails = 's 7'
    await expect(render(given())).rejects.toThrow('The clip ends before its frame.')
    expect(world.written.length).toBeLessThan(8)
    expect(world).toMatchObject({ running: 0, discarded: 1 })
  })
  it('because it is stopped ends at once', async () => {
    const stop = new AbortController()
    await expect(render(given(), stop.signal, (done) => done === 3 && stop.abort())).rejects.toMatchObject({
      name: 'AbortError',
    })
    expect(world.written.length).toBeLessThan(6)
    expect(world).toMatchObject({ running: 0, discarded: 1 })
  })
})

it('a video file is of an even size, at the full rate of its clip, with bits for its grain', () => {
  const mp4 = fileForms.mp4.make
  const options = videoOptions(media('a', { width: 641, height: 361, rate: 23.976 }), mp4)
  expect(options).toMatchObject({ width: 640, height: 360, format: 'mp4' })
  expect(options.rate).toBeCloseTo(24000 / 1001, 6)
  expect(options.bitrate).toBe(2e6)
  const large = videoOptions(media('a', { width: 1920, height: 1080, rate: 25 }), fileForms.webm.make)
  expect(large.bitrate).toBe(Math.round(1920 * 1080 * 25 * 0.22))
  expect(videoOptions(media('a', { variableRate: true }), mp4).rate).toBeNull()
})
