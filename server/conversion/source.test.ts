import { chmod, mkdtemp, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Converter } from './programs.ts'
import { sourceOf } from './source.ts'

let folder = ''
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wisp-source-'))
})
afterAll(() => rm(folder, { recursive: true, force: true }))

/** A converter whose ffprobe says this of every file. */
async function saying(said: object): Promise<Converter> {
  const file = join(folder, `ffprobe-${Math.random()}`)
  await writeFile(file, `#!/bin/sh\ncat <<'END'\n${JSON.stringify(said)}\nEND\n`)
  await chmod(file, 0o755)
  return { ffmpeg: [file], ffprobe: [file], packaged: false }
}
const picture = (index: number, given: object = {}) => ({
  ...{ index, codec_type: 'video', codec_name: 'hevc', width: 512, height: 512, pix_fmt: 'yuv420p' },
  ...{ color_space: 'bt709', color_range: 'tv', time_base: '1/600', avg_frame_rate: '30/1', ...given },
})
const heic = { format_name: 'mov,mp4', tags: { major_brand: 'heic' } }

describe('what a file holds', () => {
  it('is a still where it is one picture of HEIF, with or without a small one beside it', async () => {
    const streams = [picture(0, { width: 4032, height: 3024 }), picture(1, { width: 320, height: 240 })]
    expect(await sourceOf(await saying({ streams, format: heic }), '/x')).toMatchObject({ still: true, width: 4032 })
  })

  it('of tiles is not one of them', async () => {
    const streams = Array.from({ length: 48 }, (_, i) => picture(i))
    await expect(sourceOf(await saying({ streams, format: heic }), '/x')).rejects.toThrow(/put together of tiles/)
  })

  it('of two cameras is the one that is meant as usual, else the larger one; both are told', async () => {
    const [front, back] = [picture(0, { width: 640, height: 480 }), picture(2, { width: 1920, height: 1080 })]
    const both = { streams: [front, back], format: { format_name: 'matroska' } }
    const source = (await sourceOf(await saying(both), '/x'))!
    expect(source).toMatchObject({ stream: 2, width: 1920 })
    expect(source.streams).toEqual([
      { stream: 2, label: '1920 × 1080' },
      { stream: 0, label: '640 × 480' },
    ])
    const named = { ...both, streams: [{ ...front, disposition: { default: 1 } }, back] }
    expect(await sourceOf(await saying(named), '/x')).toMatchObject({ stream: 0 })
    // The picture on the cover of a song is no clip.
    const cover = { ...both, streams: [{ ...back, disposition: { attached_pic: 1 } }] }
    expect(await sourceOf(await saying(cover), '/x')).toBeNull()
  })

  it.each([
    ['HLG', { color_transfer: 'arib-std-b67', color_primaries: 'bt2020' }, { transfer: 'hlg', wide: true }],
    ['PQ', { color_transfer: 'smpte2084', color_primaries: 'bt2020' }, { transfer: 'pq', wide: true }],
    [
      'BT.2020',
      { color_primaries: 'bt2020', color_space: 'bt2020nc' },
      { transfer: 'sdr', wide: true, matrix: 'bt2020' },
    ],
    ['Display P3', { color_primaries: 'smpte432' }, { transfer: 'p3', wide: true, matrix: 'bt709' }],
    ['plain', { color_primaries: 'bt709' }, { transfer: 'sdr', wide: false }],
    ['10 bit', { pix_fmt: 'yuv422p10le' }, { bits: 10 }],
    ['alpha', { pix_fmt: 'yuva444p12le' }, { alpha: true, bits: 12 }],
    ['full range', { pix_fmt: 'yuvj420p' }, { range: 'full' }],
    ['turned', { side_data_list: [{ rotation: -90 }], width: 1920, height: 1080 }, { width: 1080, height: 1920 }],
    ['bottom field first', { field_order: 'bb' }, { interlaced: 'bottom' }],
  ] as const)('%s is read off what ffprobe says', async (_, given, expected) => {
    const said = { streams: [picture(0, given)], format: { format_name: 'mov,mp4' } }
    expect(await sourceOf(await saying(said), '/x')).toMatchObject(expected)
  })
})
