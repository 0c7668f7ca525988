import { afterEach, expect, it, vi } from 'vitest'
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
