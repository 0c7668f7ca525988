import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Media } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { Clips } from './clips.ts'
import type { RenderWorker } from './render.worker.ts'

/** Decoders that were started, with what each was opened with. */
const decoders: { opened: string[]; stopped: boolean }[] = []
/** Clips that no decoder can open. */
const broken = new Set<string>()
vi.mock('./clipOf.ts', () => ({
  timesOf: async () => [0],
  clipOf: (media: Media) => ({ address: media.id }),
}))
vi.mock('./start.ts', () => ({
  startDecoder: () => {
    const one = { opened: [] as string[], stopped: false }
    decoders.push(one)
    return {
      remote: {
        open: async ({ address }: { address: string }) => {
          one.opened.push(address)
          if (broken.has(address)) throw new Refusal(`${address} is broken.`)
        },
        serve: async () => {},
      },
      stop: () => {
        one.stopped = true
      },
    }
  },
}))

function setUp() {
  const forgotten: string[] = []
  let ask: ((media: string, own: boolean) => Promise<MessagePort>) | undefined
  const renderer = {
    connect: async (given: typeof ask) => void (ask = given),
    forget: async (id: string, own: boolean) => void forgotten.push(`${own ? 'own ' : ''}${id}`),
  } as unknown as RenderWorker
  const clips = new Clips([renderer], (id) => (id === 'gone' ? null : media(id)))
  return { clips, forgotten, ask: (id: string, own: boolean) => ask!(id, own) }
}
const media = (id: string) => ({ type: 'media', id, hash: `hash of ${id}` }) as Media
const alive = () => decoders.filter((one) => !one.stopped).length

beforeEach(() => {
  decoders.length = 0
  broken.clear()
})

describe('the own clip of a shot', () => {
  it('keeps its decoder from one shot to the next of the same clip, and goes on with it to another clip', async () => {
    const { clips, forgotten } = setUp()
    const first = await clips.openOwn(media('a'), [])
    expect(await clips.openOwn(media('a'), [])).toBe(first)
    expect(decoders[0]!.opened).toEqual(['a'])
    await clips.openOwn(media('b'), [])
    expect(decoders).toHaveLength(1)
    expect(decoders[0]!.opened).toEqual(['a', 'b'])
    expect(forgotten).toEqual(['own a'])
  })
  it('is opened by the decoder that was made ready for it; none is left over', async () => {
    const { clips } = setUp()
    clips.makeReady()
    clips.makeReady()
    expect(decoders.map(({ opened }) => opened)).toEqual([[]])
    await clips.openOwn(media('a'), [])
    clips.makeReady()
    expect(decoders.map(({ opened }) => opened)).toEqual([['a']])
    clips.stop()
    clips.makeReady()
    clips.stop()
    expect(alive()).toBe(0)
  })
  it('that can not be opened says why, and is tried with a fresh decoder the next time', async () => {
    const { clips } = setUp()
    broken.add('a')
    await expect(clips.openOwn(media('a'), [])).rejects.toThrow('a is broken.')
    expect(clips.ownDecoder).toBeNull()
    broken.clear()
    await clips.openOwn(media('a'), [])
    expect(decoders.map((one) => one.stopped)).toEqual([true, false])
  })
  it('is not disturbed by a failure of the one before', async () => {
    const { clips } = setUp()
    broken.add('a')
    const failing = clips.openOwn(media('a'), [])
    const next = clips.openOwn(media('b'), [])
    await expect(failing).rejects.toThrow('a is broken.')
    await next
    expect(clips.ownDecoder).not.toBeNull()
    expect(alive()).toBe(1)
  })
})

describe('clips beside the own one', () => {
  it('are four at most: the oldest is put away, and renderers forget it', async () => {
    const { clips, forgotten } = setUp()
    for (const id of ['a', 'b', 'c', 'd', 'e']) await clips.decoderOf(media(id))
    expect(alive()).toBe(4)
    expect(decoders[0]!.stopped).toBe(true)
    expect(forgotten).toEqual(['a'])
    await clips.decoderOf(media('e'))
    expect(decoders).toHaveLength(5)
  })
  it('that can not be had are asked for anew', async () => {
    const { clips } = setUp()
    broken.add('a')
    await expect(clips.decoderOf(media('a'))).rejects.toThrow('a is broken.')
    broken.clear()
    await clips.decoderOf(media('a'))
    expect(decoders.map((one) => one.stopped)).toEqual([true, false])
  })
  it('are reached by a port; of a deleted one the user hears what to do', async () => {
    const { ask } = setUp()
    const port = await ask('a', false)
    expect(port).toBeInstanceOf(MessagePort)
    port.close()
    await expect(ask('gone', false)).rejects.toThrow(/not in this project any more; choose another one/)
    await expect(ask('a', true)).rejects.toThrow('The clip was closed.')
  })
  it('all end together', async () => {
    const { clips } = setUp()
    await clips.openOwn(media('a'), [])
    await clips.decoderOf(media('b'))
    clips.stop()
    expect(alive()).toBe(0)
  })
})
