import { describe, expect, it } from 'vitest'
import type { Media } from '#core/records/types.ts'
import type { DecodeWorker } from './decode.worker.ts'
import { ReadingsTeller } from './readings.ts'
import type { RenderWorker } from './render.worker.ts'

/** A clip of which it is counted what is read, and a renderer that notes what it is told. */
function workshop() {
  const read: string[] = []
  const told: string[] = []
  const decoder = {
    luma: async (frame: number) => void read.push(`frame ${frame}`),
    levels: async () => (read.push('sound'), new Float32Array(2)),
  } as unknown as DecodeWorker
  const renderer = {
    see: async (media: string, frames: { frame: number }[]) => void told.push(`${media} ${frames.length}`),
    hear: async (name: string) => void told.push(`${name} sound`),
  } as unknown as RenderWorker
  const mediaOf = (id: string) => ({ id, hash: 'same', width: 320, height: 180 }) as Media
  const teller = new ReadingsTeller()
  let loud = 'as it was'
  const sources = {
    mediaOf,
    decoderOf: async () => decoder,
    mixOf: async () => ({ signature: loud, levels: new Float32Array(2) }),
  }
  const tell = (id: string, to: number, goOn?: () => boolean) => {
    const asked = { seen: [{ media: id, from: 0, to }], heard: [id], mixed: [] }
    return teller.tell(asked, [renderer], sources, () => {}, goOn)
  }
  const tellMix = () => teller.tell({ seen: [], heard: [], mixed: [{ shot: 's', of: 'mix' }] }, [renderer], sources)
  return { read, told, tell, tellMix, sound: (now: string) => void (loud = now) }
}

describe('what drives are told', () => {
  it('is read once, in batches, and a longer shot reads on from there', async () => {
    const { read, told, tell } = workshop()
    await tell('a', 30)
    expect(told).toEqual(['a sound', 'a 24', 'a 6'])
    await tell('a', 30)
    expect(read).toHaveLength(31)
    await tell('a', 32)
    expect(read.slice(31)).toEqual(['frame 30', 'frame 31'])
  })
  it('is told anew where another project has the same file under another id', async () => {
    const { told, tell } = workshop()
    await tell('a', 2)
    await tell('b', 2)
    expect(told).toEqual(['a sound', 'a 2', 'b sound', 'b 2'])
  })
  it('is told anew of a sound when that sounds otherwise, and only then', async () => {
    const { told, tellMix, sound } = workshop()
    await tellMix()
    await tellMix()
    expect(told).toEqual(['s mix sound'])
    sound('louder')
    await tellMix()
    expect(told).toEqual(['s mix sound', 's mix sound'])
  })
  it('is not remembered as told where it was stopped', async () => {
    const { told, tell } = workshop()
    await tell('a', 2, () => false)
    expect(told).toEqual([])
    await tell('a', 2)
    expect(told).toEqual(['a sound', 'a 2'])
  })
})
