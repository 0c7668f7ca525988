import { afterEach, describe, expect, it, vi } from 'vitest'
import { isRefusal } from '#core/refusal.ts'
import { api, noAnswer, ServerError } from './api.ts'

const answers = (status: number, body: unknown, type = 'application/json') =>
  vi.stubGlobal('fetch', async () => new Response(JSON.stringify(body), { status, headers: { 'content-type': type } }))
const change = { id: 'c', base: 3, label: 'Key', diff: { put: [], remove: [] } }
afterEach(() => vi.unstubAllGlobals())

it('an error of the server carries its sentence, to be shown as it is', async () => {
  answers(404, { error: 'There is no such project; it may have been deleted.' })
  const error = await api.openProject('gone').catch((one: unknown) => one)
  expect(error).toBeInstanceOf(ServerError)
  expect(error).toMatchObject({ status: 404, message: 'There is no such project; it may have been deleted.' })
  expect(isRefusal(error)).toBe(true)
})
it('where it has no sentence of its own, its number is named', async () => {
  answers(502, 'Bad gateway', 'text/html')
  await expect(api.projects()).rejects.toThrow('The server refused this (502). Try again.')
})
it('a server that does not answer is told apart from one that refuses', async () => {
  vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')))
  await expect(api.projects()).rejects.toMatchObject({ status: 0, message: noAnswer })
})
it('a change behind newer ones is an answer with what it missed; any other refusal is one', async () => {
  const newer = [{ id: 'x', revision: 4, label: 'other', diff: { put: [], remove: [] } }]
  answers(409, { accepted: false, revision: 4, newer })
  expect(await api.commit('p', change)).toEqual({ accepted: false, revision: 4, newer })
  answers(409, { error: 'The file is there already.' })
  await expect(api.commit('p', change)).rejects.toThrow('already')
  answers(422, { error: 'The key was refused.' })
  await expect(api.commit('p', change)).rejects.toMatchObject({ status: 422 })
})
it('files go as they are, all else as JSON', async () => {
  const sent: RequestInit[] = []
  vi.stubGlobal('fetch', async (_: string, init: RequestInit) => {
    sent.push(init)
    return Response.json({ times: [0] })
  })
  const png = new Blob(['x'], { type: 'image/png' })
  await api.putThumbnail('p', png)
  await api.createProject('Ferry')
  await api.frameTimes('h')
  expect(sent[0]).toMatchObject({ method: 'PUT', body: png, headers: { 'Content-Type': 'image/png' } })
  expect(sent[1]).toMatchObject({ method: 'POST', body: '{"name":"Ferry"}' })
  expect(sent[2]).toEqual({ method: 'GET' })
})

describe('opening a project', () => {
  const records = [
    { type: 'project', id: 'p', name: 'Line\nbreak, ]} and "quotes"' },
    { type: 'shot', id: 's' },
  ]
  const text = `{"revision":7,"records":[\n${records.map((one) => JSON.stringify(one)).join(',\n')}\n]}`
  /** Comes in pieces that end anywhere, in the middle of a character, too. */
  const answer = (bytes: Uint8Array, piece: number) =>
    new Response(
      new ReadableStream({
        start(stream) {
          for (let i = 0; i < bytes.length; i += piece) stream.enqueue(bytes.subarray(i, i + piece))
          stream.close()
        },
      }),
    )
  it('reads it as it comes, wherever its pieces end', async () => {
    const bytes = new TextEncoder().encode(text)
    for (const piece of [1, 7, 1000]) {
      vi.stubGlobal('fetch', async () => answer(bytes, piece))
      expect(await api.openProject('p')).toEqual({ revision: 7, records })
    }
  })
  it('that ends too soon is no project', async () => {
    const bytes = new TextEncoder().encode(text)
    vi.stubGlobal('fetch', async () => answer(bytes.subarray(0, -3), 9))
    await expect(api.openProject('p')).rejects.toThrow(/does not answer/)
  })
})
