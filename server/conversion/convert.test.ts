import { chmod, mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { convert, type Conversion } from './convert.ts'
import type { Converter } from './programs.ts'

let folder = ''
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wisp-convert-'))
})
afterAll(() => rm(folder, { recursive: true, force: true }))

/** A converter whose ffmpeg is these lines of a shell. */
async function standIn(lines: string): Promise<Converter> {
  const file = join(folder, `ffmpeg-${Math.random()}`)
  await writeFile(file, `#!/bin/sh\n${lines}\n`)
  await chmod(file, 0o755)
  return { ffmpeg: [file], ffprobe: [file], packaged: false }
}
async function job(given: Partial<Conversion> = {}): Promise<Conversion> {
  const own = join(folder, `own-${Math.random()}`)
  await mkdir(own)
  return {
    ...{ from: '/dev/null', folder: own, plan: { args: [], table: null, ending: 'mp4', reading: [] } },
    ...{ seconds: 10, most: 1e6, progressed: () => {}, ...given },
  }
}
const never = new AbortController().signal

describe('a converter', () => {
  it('that tells how far it is is believed, up to its end', async () => {
    const shares: number[] = []
    const line = (us: number) => `echo out_time_us=${us}; sleep 0.05`
    const progressed = (share: number) => void shares.push(share)
    await convert(await standIn([2e6, 5e6, 2e7].map(line).join('\n')), await job({ progressed }), never)
    expect(shares).toEqual(expect.arrayContaining([0.2, 0.5, 0.99]))
    expect(Math.max(...shares)).toBe(0.99)
  })

  it.each<[string, string, RegExp, Partial<Conversion>]>([
    ['is killed', 'kill -9 $$', /ended by the system/, {}],
    ['finds nothing it can read', 'echo "Invalid data" >&2; exit 1', /it is damaged/, {}],
    ['never ends', 'sleep 60', /nothing came for 1 seconds/, { patience: 1 }],
    ['finds the disk full', 'echo "No space left on device" >&2; exit 1', /disk is full/, {}],
    ['makes more than fits', 'echo total_size=2000000; exit 0', /larger than fits/, {}],
  ])('that %s is told so', async (_, lines, sentence, given) => {
    const began = performance.now()
    await expect(convert(await standIn(lines), await job(given), never)).rejects.toThrow(sentence)
    expect(performance.now() - began).toBeLessThan(20_000)
  })

  it('that is not there any more fails, and one that is not wanted any more is ended at once', async () => {
    const gone: Converter = { ffmpeg: [join(folder, 'nobody')], ffprobe: [''], packaged: false }
    await expect(convert(gone, await job(), never)).rejects.toThrow()
    const stop = new AbortController()
    const work = convert(await standIn('sleep 60'), await job(), stop.signal)
    setTimeout(() => stop.abort(new Error('not wanted')), 200)
    await expect(work).rejects.toThrow('not wanted')
    expect((await readdir(folder)).length).toBeGreaterThan(0)
  })
})
