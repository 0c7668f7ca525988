import { afterEach, describe, expect, it, vi } from 'vitest'
import { api } from './api.ts'
import { askAhead } from './ahead.ts'

const record = { type: 'project', id: 'p', name: 'One', created: '', light: 'linear' }
const answer = (revision: number, status = 200) =>
  new Response(`{"revision":${revision},"records":[\n${JSON.stringify(record)}\n]}`, {
    status,
    headers: { 'content-type': 'application/json' },
  })
/** Answers requests one after the other; gives the addresses that were asked. */
function server(...answers: (Response | Error)[]): string[] {
  const asked: string[] = []
  vi.stubGlobal('fetch', async (path: string) => {
    asked.push(path)
    const next = answers.shift()
    if (!next || next instanceof Error) throw next ?? new Error('no more answers')
    return next
  })
  return asked
}
afterEach(() => {
  vi.unstubAllGlobals()
  vi.useRealTimers()
})

describe('a project that was asked for while the page loads', () => {
  it('is opened from that answer, once', async () => {
    const asked = server(answer(3), answer(4))
    askAhead('p')
    expect(await api.openProject('p')).toEqual({ revision: 3, records: [record] })
    expect(asked).toEqual(['/api/projects/p'])
    expect((await api.openProject('p')).revision).toBe(4)
  })

  it('is asked for again where another one is opened, or the answer was none', async () => {
    server(answer(1), answer(2))
    askAhead('q')
    expect((await api.openProject('p')).revision).toBe(2)
    server(new Error('refused'), answer(5))
    askAhead('p')
    expect((await api.openProject('p')).revision).toBe(5)
    server(answer(1, 404), answer(1, 404))
    askAhead('p')
    await expect(api.openProject('p')).rejects.toThrow(/404|refused/)
  })

  it('is asked for again where it was opened much later', async () => {
    vi.useFakeTimers({ toFake: ['performance'] })
    server(answer(1), answer(9))
    askAhead('p')
    vi.advanceTimersByTime(60_000)
    expect((await api.openProject('p')).revision).toBe(9)
  })
})
