import type { CommitAnswer, StoredChange } from '#core/records/exchange.ts'
import { makeKey } from '#core/records/make.ts'
import type { AnyRecord, Key } from '#core/records/types.ts'
import { ServerError } from '../../web/project/api.ts'
import type { UnsentChange } from '../../web/project/outbox.ts'
import { ProjectSession } from '../../web/project/session.ts'
import type { Chance } from '../support/chance.ts'
import { ServerProcess } from '../support/serverProcess.ts'
import { cast } from './ledger.ts'

export interface Tabs {
  edits: number
  seconds: number
  questions: number
  /** Changes to what several tabs worked on. */
  contested: number
  faults: string[]
}

/** Several tabs work on one project at once, as fast as they can, on the real server. */
export async function tabs(data: string, edits: number, chance: Chance, built: boolean): Promise<Tabs> {
  const server = await ServerProcess.start(data, built)
  const { body } = await server.api('POST', '/api/projects', { name: 'Ferry' })
  const project = body.id as string
  const begin = { id: 'cast', base: 0, label: 'cast', diff: { put: cast, remove: [] } }
  await server.api('POST', `/api/projects/${project}/changes`, begin)
  const opened = (await server.api('GET', `/api/projects/${project}`)).body as {
    revision: number
    records: AnyRecord[]
  }
  const faults: string[] = []
  const lines: AbortController[] = []
  const sessions = Array.from({ length: 4 }, (_, tab) => {
    const session = new ProjectSession(project, opened, {
      async commit(_, change): Promise<CommitAnswer> {
        const { status, body } = await server.api('POST', `/api/projects/${project}/changes`, change)
        if (status !== 200 && !body.newer) throw new ServerError(status, String(body.error))
        return body as unknown as CommitAnswer
      },
      outbox: { tab: `tab${tab}`, keep: async (_: UnsentChange) => {}, drop: async () => {} },
      retryAfter: 200,
    })
    session.onNotice = (sentence) => faults.push(sentence)
    const stop = new AbortController()
    lines.push(stop)
    listen(`${server.address}/api/projects/${project}/live?since=1`, stop.signal, (change) =>
      session.take(change),
    ).catch((error: unknown) => stop.signal.aborted || faults.push(String(error)))
    return session
  })
  let [questions, contested] = [0, 0]
  const answering = setInterval(() => {
    for (const session of sessions)
      if (session.clash.length) {
        questions++
        session.settle(chance.below(2) === 0)
      }
  }, 2)
  const started = performance.now()
  await Promise.all(
    sessions.map(async (session, tab) => {
      for (let i = 0; i < edits / 4; i++) {
        const own = chance.below(20) > 0
        if (!own) contested++
        const frame = own ? 1000 * tab + chance.below(200) : 4500 + chance.below(4)
        session.commit('Key', { put: [makeKey('p', frame, [tab, i, 1, 1])], remove: [] })
        if (chance.below(4) === 0) await new Promise((done) => setTimeout(done, chance.below(3)))
      }
    }),
  )
  const settled = () => sessions.every(({ keeping, clash }) => keeping.state === 'kept' && clash.length === 0)
  const alike = () => new Set(sessions.map((one) => one.revision)).size === 1
  while ((!settled() || !alike()) && performance.now() - started < 60_000)
    await new Promise((done) => setTimeout(done, 10))
  const seconds = (performance.now() - started) / 1000
  clearInterval(answering)
  lines.forEach((line) => line.abort())
  const stateOf = (keys: readonly Key[]) => keys.map((key) => `${key.id} ${key.points.join(' ')}`).join('; ')
  const byFrame = (a: Key, b: Key) => a.frame - b.frame
  const { records } = (await server.api('GET', `/api/projects/${project}`)).body as { records: AnyRecord[] }
  const kept = stateOf(records.filter((one): one is Key => one.type === 'key').sort(byFrame))
  for (const [tab, session] of sessions.entries())
    if (stateOf([...session.records.childrenOf('key', 'p')].sort(byFrame)) !== kept)
      faults.push(`tab ${tab} ended with something else than the server`)
  sessions.forEach((session) => session.close())
  await server.stop('SIGTERM')
  return { edits, seconds, questions, contested, faults }
}

async function listen(address: string, signal: AbortSignal, take: (change: StoredChange) => void): Promise<void> {
  const answer = await fetch(address, { signal })
  let rest = ''
  for await (const piece of answer.body!.pipeThrough(new TextDecoderStream())) {
    const events = (rest + piece).split('\n\n')
    rest = events.pop()!
    for (const event of events) {
      const data = /^data: (.*)$/m.exec(event)?.[1]
      if (data) take(JSON.parse(data) as StoredChange)
    }
  }
}
