import { get, type IncomingMessage } from 'node:http'
import { describe, expect, it, onTestFinished, vi } from 'vitest'
import { cast, newProject, put, send, testServer } from '../testServer.ts'

describe('a request that can not be read', () => {
  it.each([
    ['an address that can not be decoded', '/api/projects/%E0%A4%A', {}, '', 400],
    ['a body that is not JSON', '/api/projects', {}, '{', 400],
    ['a body that is not packed as it says', '/api/projects', { 'Content-Encoding': 'gzip' }, 'not gzip', 400],
    ['an unknown packing', '/api/projects', { 'Content-Encoding': 'rar' }, '{}', 415],
    ['an unknown alphabet', '/api/projects', { 'Content-Type': 'application/json; charset=klingon' }, '{}', 415],
  ])('for %s is answered with what is wrong', async (_, path, headers, body, status) => {
    const { http } = await testServer()
    const answer = await http.post(path).set('Content-Type', 'application/json').set(headers).send(body)
    expect(answer.status).toBe(status)
    expect(answer.body.error).toMatch(/^The request .*\.$/)
  })
  it('has a label in words', async () => {
    const server = await testServer()
    const id = await newProject(server)
    for (const label of [7, { toString: 1 }, ['a'], 'a\0b', undefined]) {
      const change = { id: 'c', base: 0, label, diff: put(...cast()) }
      const { body } = await server.http.post(`/api/projects/${id}/changes`).send(change).expect(422)
      expect(body.error).toMatch(/label in plain words/)
    }
  })
  it('asks for bytes that the file has', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const place = `/api/projects/${id}/outputs`
    const { body: made } = await server.http
      .post(place)
      .query({ shot: 's', name: 'a.mp4' })
      .set('Content-Type', 'video/mp4')
      .send(Buffer.from('film'))
    const file = `${place}/${made.id as string}/file`
    const { body } = await server.http.get(file).set('Range', 'bytes=900-').expect(416)
    expect(body.error).toMatch(/no such range/)
  })
})

describe('a live line', () => {
  it('of a tab that does not read is cut off, and catches up where it stopped', async () => {
    const server = await testServer()
    const listener = server.app.listen(0, '127.0.0.1')
    onTestFinished(() => void listener.close())
    const id = await newProject(server)
    await send(server, id, 0, put(...cast()))
    const { port } = listener.address() as { port: number }
    const line = (heard: number) =>
      new Promise<IncomingMessage>((done) =>
        get({ port, path: `/api/projects/${id}/live?since=1`, headers: { 'Last-Event-ID': heard } }, done),
      )
    const deaf = await line(1)
    let cut = false
    deaf.on('error', () => (cut = true)).on('close', () => (cut = true))
    deaf.pause()
    const stroke = (n: number) => ({
      ...{ type: 'stroke' as const, id: `s${n}`, part: 'p', frame: 0, order: n, wanted: true, size: 9 },
      points: Array.from({ length: 3000 }, (_, i) => i + 0.123456789),
    })
    // 24 MB: more than the system's own buffers take.
    let revision = 1
    for (; revision < 40; revision++)
      await send(server, id, revision, put(...Array.from({ length: 10 }, (_, i) => stroke(i)))).expect(200)
    deaf.resume()
    await vi.waitFor(() => expect(cut).toBe(true), { timeout: 30_000 })
    const again = await line(revision - 2)
    onTestFinished(() => void again.destroy())
    let heard = ''
    again.on('data', (chunk: Buffer) => (heard += String(chunk)))
    await vi.waitFor(() => expect(heard.match(/^id: \d+$/gm)).toEqual([`id: ${revision - 1}`, `id: ${revision}`]), {
      timeout: 30_000,
    })
  })
})
