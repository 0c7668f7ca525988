import { execFileSync } from 'node:child_process'
import { readdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { beforeAll, describe, expect, it } from 'vitest'
import type { RenderNews, ServerOrder } from '#core/outgoing/orders.ts'
import { clipOfFrames } from '#lab/support/clips.ts'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { projectWithClip, testServer, type TestServer } from './testServer.ts'

let clip: Buffer = Buffer.alloc(0)
beforeAll(async () => void (clip = await clipOfFrames(24)))

const asked: ServerOrder = {
  ...{ shot: 's', frames: null, out: 'over', kind: 'prores', of: '', reduce: 1, crop: false },
  ...{ name: 'Shot.mov', about: 'made by a test' },
}
/** All that the server tells of a render, in its order. */
async function news(server: TestServer, project: string, order: Partial<ServerOrder>): Promise<RenderNews[]> {
  const { text } = await server.http
    .post(`/api/projects/${project}/renders`)
    .send({ ...asked, ...order })
    .buffer(true)
    .parse((response, done) => {
      let all = ''
      response.setEncoding('utf8')
      response.on('data', (part: string) => (all += part))
      response.on('end', () => done(null, all))
    })
    .then(({ body }) => ({ text: body as string }))
  return text
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as RenderNews)
}
const left = (server: TestServer) => readdir(join(server.data, 'incoming'))

describe('a file that the server renders', () => {
  it('is ProRes of ten bits with the frames that were asked for, and tells how far it is', async () => {
    const server = await testServer()
    const { id } = await projectWithClip(server, clip)
    const told = await news(server, id, { frames: { from: 6, to: 11 } })
    expect(told.slice(0, -1)).toEqual(Array.from({ length: 6 }, (_, i) => ({ done: i + 1, of: 6 })))
    const { made } = told.at(-1) as Extract<RenderNews, { made: unknown }>
    const { body } = await server.http.get(`/api/projects/${id}/outputs`).expect(200)
    expect(body).toMatchObject([{ id: made.id, shot: 's', name: 'Shot.mov', about: 'made by a test' }])
    const file = join(server.data, 'outputs', made.id)
    const fields = 'stream=codec_name,profile,pix_fmt,width,height,nb_frames,color_space'
    const probe = execFileSync('ffprobe', ['-v', 'error', '-show_entries', fields, '-of', 'json', file])
    expect((JSON.parse(String(probe)) as { streams: object[] }).streams[0]).toMatchObject({
      ...{ codec_name: 'prores', profile: 'HQ', pix_fmt: 'yuv422p10le', width: 320, height: 180, nb_frames: '6' },
      color_space: 'bt709',
    })
    // Nothing is laid on it: it is the clip.
    const source = join(server.data, 'clip.mp4')
    await writeFile(source, clip)
    const grey = (input: string[]) => new Uint8Array(ffmpeg([...input, '-pix_fmt', 'gray', '-f', 'rawvideo', '-']))
    const [mine, theirs] = [grey(['-i', file]), grey(['-i', source, '-vf', "select='between(n,6,11)'"])]
    expect(mine.length).toBe(6 * 320 * 180)
    expect(mine.reduce((sum, v, i) => sum + Math.abs(v - theirs[i]!), 0) / mine.length).toBeLessThan(1)
    expect(await left(server)).toEqual([])
  })

  it('is refused with a sentence where it can not be made, and nothing is left', async () => {
    const server = await testServer()
    const { id } = await projectWithClip(server, clip)
    const post = (order: object) => server.http.post(`/api/projects/${id}/renders`).send({ ...asked, ...order })
    expect((await post({ kind: 'mp4' }).expect(422)).body.error).toBe(
      'This can not be rendered: The kind is none of those that there are.',
    )
    expect((await post({ kind: 'prores4444' }).expect(422)).body.error).toMatch(/does not go into a file of that form/)
    expect((await post({ frames: { from: -1, to: 2 } }).expect(422)).body.error).toMatch(/^This can not be rendered/)
    expect(await news(server, id, { shot: 'gone' })).toEqual([
      { refused: 'No shot is called "gone". There are: Shot.' },
    ])
    expect(await news(server, id, { out: 'matte', of: 'Nobody' })).toEqual([{ refused: 'There is no Nobody in it.' }])
    expect([await left(server), await readdir(join(server.data, 'outputs'))]).toEqual([[], []])
  })

  it('is given up, and nothing is left, when whoever asked is gone', async () => {
    const server = await testServer()
    const { id } = await projectWithClip(server, clip)
    const listening = server.app.listen(0)
    try {
      const { port } = listening.address() as { port: number }
      const stop = new AbortController()
      const response = await fetch(`http://127.0.0.1:${port}/api/projects/${id}/renders`, {
        ...{ method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(asked) },
        signal: stop.signal,
      })
      // It has begun.
      await response.body!.getReader().read()
      expect(await left(server)).toHaveLength(1)
      stop.abort()
      await expect.poll(() => left(server), { timeout: 40_000 }).toEqual([])
      expect(await readdir(join(server.data, 'outputs'))).toEqual([])
    } finally {
      listening.closeAllConnections()
      listening.close()
    }
  })
})
