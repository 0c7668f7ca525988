import { createHash } from 'node:crypto'
import { existsSync } from 'node:fs'
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { i420Layout, reducedI420, type Yuv } from '#core/pixels/buffers/yuv.ts'
import type { LighterState } from '#core/records/exchange.ts'
import { turnByTag } from '#lab/support/clips.ts'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { factsOf } from './media/facts.ts'
import { Room } from './storage/room.ts'
import { testServer, type TestServer } from './testServer.ts'

const size = { width: 2560, height: 1440 }
let folder = ''
/** Two seconds that move, with grain and a bright blue, whose frames lie unevenly, and turned by a tag. */
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'wisp-lighter-'))
  const source = ['-f', 'lavfi', '-i', `testsrc2=s=${size.width}x${size.height}:r=24:d=1,noise=alls=6:allf=t`]
  const coded = [
    '-c:v',
    'libx264',
    '-preset',
    'ultrafast',
    '-g',
    '24',
    '-pix_fmt',
    'yuv420p',
    '-fps_mode',
    'passthrough',
  ]
  ffmpeg([...source, '-vf', 'setpts=PTS+0.3*(N-2*floor(N/2))/24/TB', ...coded, join(folder, 'uneven.mp4')])
  turnByTag(join(folder, 'uneven.mp4'), join(folder, 'turned.mp4'))
  const full = ['-vf', 'scale=out_range=pc', '-pix_fmt', 'yuvj420p', '-color_range', 'pc']
  ffmpeg([...source, ...full, '-c:v', 'libx264', '-preset', 'ultrafast', '-t', '0.5', join(folder, 'full.mp4')])
  ffmpeg([...source, '-vf', 'scale=1280:720', ...coded, '-t', '0.5', join(folder, 'small.mp4')])
  ffmpeg([...source, '-vf', 'scale=2558:1438', ...coded, '-t', '0.5', join(folder, 'odd.mp4')])
}, 120_000)
afterAll(() => rm(folder, { recursive: true, force: true }))

async function upload(server: TestServer, name: string): Promise<string> {
  const bytes = await readFile(join(folder, name))
  const { body } = await server.http
    .post('/api/footage')
    .set('Content-Type', 'application/octet-stream')
    .send(bytes)
    .expect(201)
  return (body as { hash: string }).hash
}
const stateOf = async (server: TestServer, hash: string) =>
  (await server.http.post(`/api/footage/${hash}/lighter/state`).expect(200)).body as LighterState
/** What is known before anybody wants one. */
const knownOf = async (server: TestServer, hash: string) =>
  (await server.http.get(`/api/footage/${hash}/lighter/state`).expect(200)).body as LighterState

/** Asks as a page does until there is nothing more to wait for; gives all that was told. */
async function waited(server: TestServer, hash: string): Promise<LighterState[]> {
  const told: LighterState[] = []
  for (;;) {
    told.push(await stateOf(server, hash))
    if (told.at(-1)!.state !== 'making') return told
    await new Promise((done) => setTimeout(done, 100))
  }
}

/** Codes of a frame of a file, as they are coded. */
function codes(file: string, frame: number, { width, height }: { width: number; height: number }): Yuv {
  const raw = ffmpeg([
    ...['-noautorotate', '-i', file, '-vf', `select=eq(n\\,${frame})`, '-frames:v', '1', '-f', 'rawvideo', '-'],
  ])
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(raw.subarray(0, bytes))
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0 }
}
const room = (bytes: number) => new Uint8Array(bytes)

/** How far the frames of a copy are from those of the clip made smaller: the mean over all codes. */
function apart(clip: string, copy: string, frame: number): number {
  const exact = reducedI420(codes(clip, frame, size), 2, room).data
  const got = codes(copy, frame, { width: size.width / 2, height: size.height / 2 }).data
  return exact.reduce((sum, code, i) => sum + Math.abs(code - got[i]!), 0) / exact.length
}

describe('the lighter copy of a large clip', () => {
  it('has the same frames at the same times at half the size, in codes that stand for the same', async () => {
    const server = await testServer()
    for (const name of ['uneven.mp4', 'turned.mp4', 'full.mp4']) {
      const hash = await upload(server, name)
      expect((await server.http.get(`/api/footage/${hash}/lighter`)).status).toBe(404)
      expect(await knownOf(server, hash)).toEqual({ state: 'none', share: 0 })
      const told = await waited(server, hash)
      expect(told[0]!.state, name).toBe('making')
      expect(told.at(-1), name).toEqual({ state: 'there', share: 1 })
      expect(await knownOf(server, hash)).toEqual({ state: 'there', share: 1 })
      const part = await server.http.get(`/api/footage/${hash}/lighter`).set('Range', 'bytes=4-11').expect(206)
      expect(String(part.body as Buffer)).toMatch(/^ftyp/)
      const copy = join(server.data, 'lighter', hash)
      const [facts, own] = await Promise.all([
        factsOf(join(folder, name), hash, 1),
        factsOf(copy, createHash('sha256').update(name).digest('hex'), 1),
      ])
      expect([own.width * own.height, own.frames], name).toEqual([(facts.width * facts.height) / 4, facts.frames])
      own.times.forEach((time, i) => expect(time - own.times[0]!).toBeCloseTo(facts.times[i]! - facts.times[0]!, 2.5))
      // A code of 255 is half a level of what is seen: nobody sees less.
      for (const frame of [0, 5, 11])
        expect(apart(join(folder, name), copy, frame), `${name} ${frame}`).toBeLessThan(0.8)
    }
  })

  it('is not made of what is small, of what has no whole half, and of what is no clip that is there', async () => {
    const server = await testServer()
    for (const name of ['small.mp4', 'odd.mp4'])
      expect(await stateOf(server, await upload(server, name)), name).toEqual({ state: 'none', share: 0 })
    await server.http.get(`/api/footage/${'0'.repeat(64)}/lighter/state`).expect(404)
    expect(await readdir(join(server.data, 'lighter'))).toEqual([])
  })

  it('is left where it can not be made, and nothing half-made stays', async () => {
    const server = await testServer()
    const hash = await upload(server, 'uneven.mp4')
    // Damaged since it came in.
    const file = join(server.data, 'footage', hash)
    await writeFile(file, (await readFile(file)).subarray(0, 200_000))
    expect((await waited(server, hash)).at(-1)!.state).toBe('none')
    expect(await stateOf(server, hash)).toEqual({ state: 'none', share: 0 })
    for (const name of ['lighter', 'incoming']) expect(await readdir(join(server.data, name))).toEqual([])
  })

  it('is made anew by the next server where this one stops in the middle of it', async () => {
    const server = await testServer()
    const hash = await upload(server, 'uneven.mp4')
    expect((await stateOf(server, hash)).state).toBe('making')
    await server.close()
    expect(await readdir(join(server.data, 'lighter'))).toEqual([])
    const next = await testServer({ data: server.data })
    expect((await waited(next, hash)).at(-1)!.state).toBe('there')
  })

  it('counts as room that clips take, and goes with its clip', async () => {
    const server = await testServer()
    const hash = await upload(server, 'uneven.mp4')
    await waited(server, hash)
    const copy = join(server.data, 'lighter', hash)
    const [own, half] = await Promise.all([readFile(join(server.data, 'footage', hash)), readFile(copy)])
    const all = new Room(server.database, server.files, server.backups)
    expect((await all.taken()).clips).toBe(own.length + half.length)
    const later = Date.now() + 3 * 86_400_000
    expect(await all.freeable(later)).toEqual([{ what: 'clips', count: 1, bytes: own.length + half.length }])
    await all.free(later)
    expect([copy, join(server.data, 'footage', hash)].filter(existsSync)).toEqual([])
    // One whose clip is gone otherwise goes when the server starts.
    await server.close()
    await writeFile(copy, 'left over')
    await testServer({ data: server.data })
    expect(existsSync(copy)).toBe(false)
  })
})
