import * as Comlink from 'comlink'
import { describe, expect, it } from 'vitest'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import { Records } from '#core/records/records.ts'
import type { Media, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { type AskForClip, FrameSource } from './frameSource.ts'

const shot = { type: 'shot', id: 's', media: 'own', in: 10, out: 20 } as Shot
const records = new Records([
  { type: 'media', id: 'own', frames: 40 } as Media,
  { type: 'media', id: 'smoke', frames: 8 } as Media,
])

/** A source whose clips answer a frame with its number; clips in `away` can not be had, frame 99 never comes. */
function sourceOf(away: string[] = []) {
  const asked: string[] = []
  const source = new FrameSource()
  const ask: AskForClip = async (media, own) => {
    asked.push(`${own ? 'own ' : ''}${media}`)
    if (away.includes(media)) throw new Refusal(`The clip ${media} is away.`)
    const { port1, port2 } = new MessageChannel()
    const get = (frame: number) => (frame === 99 ? new Promise(() => {}) : { width: frame, data: new Uint8Array(6) })
    Comlink.expose({ get }, port1)
    return port2 as unknown as MessagePort
  }
  source.connect(ask)
  return { source, asked }
}
const at = (frame: number) => ({ frame, between: 'repeated' as const })
const need = (media: string, frame: number, more = {}) => ({ media, frame, ...more })
const numbers = (frames: { yuv: Yuv }[]) => frames.map(({ yuv }) => yuv.width)

describe('frames for a worker', () => {
  it('come by one way for each clip, which is asked for once', async () => {
    const { source, asked } = sourceOf()
    const got = await Promise.all([3, 4, 5].map((frame) => source.get('own', true, at(frame))))
    expect(got.map((yuv) => yuv.width)).toEqual([3, 4, 5])
    await source.get('own', false, at(3))
    expect(asked).toEqual(['own own', 'own'])
  })
  it('are not waited for when their clip is put away, and it is asked for anew', async () => {
    const { source, asked } = sourceOf()
    const waiting = source.get('own', true, at(99))
    source.forget('own', true)
    await expect(waiting).rejects.toThrow('The clip was closed.')
    expect((await source.get('own', true, at(2))).width).toBe(2)
    expect(asked).toEqual(['own own', 'own own'])
  })
  it('of a clip that failed are asked for again', async () => {
    const away = ['own']
    const { source, asked } = sourceOf(away)
    await expect(source.get('own', true, at(1))).rejects.toThrow('away')
    away.pop()
    expect((await source.get('own', true, at(1))).width).toBe(1)
    expect(asked).toHaveLength(2)
  })
})

describe('other frames of a picture', () => {
  it('of the own shot are counted within it and stay within it', async () => {
    const { source } = sourceOf()
    const { frames } = await source.others([need('', 0), need('', 4), need('', 30), need('', -3)], shot, records)
    expect(numbers(frames)).toEqual([10, 14, 19, 10])
  })
  it('of another clip hold its first and last frame, or go round', async () => {
    const { source } = sourceOf()
    const needs = [
      need('smoke', -2),
      need('smoke', 11),
      need('smoke', 11, { loop: true }),
      need('smoke', -1, { loop: true }),
    ]
    expect(numbers((await source.others(needs, shot, records)).frames)).toEqual([0, 7, 3, 7])
  })
  it('that can not be had are left out and told; those that are deleted just do not come', async () => {
    const { source } = sourceOf(['smoke'])
    const { frames, troubles } = await source.others([need('smoke', 1), need('gone', 1), need('', 1)], shot, records)
    expect(numbers(frames)).toEqual([11])
    expect(troubles).toEqual([{ media: 'smoke', sentence: 'The clip smoke is away.' }])
  })
  it('of the own clip must be there', async () => {
    const { source } = sourceOf(['own'])
    await expect(source.others([need('', 1)], shot, records)).rejects.toThrow('away')
  })
})
