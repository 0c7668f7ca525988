import { mkdtemp, rm, stat } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import { expect, it, onTestFinished } from 'vitest'
import type { AnyRecord } from '#core/records/types.ts'
import { ServerProcess } from '#lab/support/serverProcess.ts'
import { cast, key, put } from './testServer.ts'

async function dataFolder(): Promise<string> {
  const data = await mkdtemp(join(tmpdir(), 'wisp-kill-'))
  onTestFinished(() => rm(data, { recursive: true, force: true }))
  return data
}
/** Whatever becomes of the test, its server does not outlive it. */
async function startProcess(data: string): Promise<ServerProcess> {
  const server = await ServerProcess.start(data)
  onTestFinished(() => server.stop('SIGKILL'))
  return server
}
async function castProject(server: ServerProcess): Promise<string> {
  const { body } = await server.api('POST', '/api/projects', { name: 'Ferry' })
  const diff = put(...cast())
  await server.api('POST', `/api/projects/${body.id as string}/changes`, { id: 'cast', base: 0, label: 'cast', diff })
  return body.id as string
}
const opened = async (server: ServerProcess, project: string) => {
  const { body } = await server.api('GET', `/api/projects/${project}`)
  const records = body.records as AnyRecord[]
  return { revision: body.revision as number, kept: new Map(records.map((record) => [record.id, record])) }
}
const sendKey = (server: ServerProcess, project: string, id: string, base: number, record: AnyRecord) =>
  server.api('POST', `/api/projects/${project}/changes`, { id, base, label: 'key', diff: put(record) })

it('every acknowledged key outlives SIGKILL in the middle of edits, ten times over', async () => {
  const data = await dataFolder()
  const acknowledged = new Map<string, AnyRecord>()
  let project = ''
  let killed = 0
  let underWay: AnyRecord | null = null
  for (let round = 0; round < 10; round++) {
    const server = await startProcess(data)
    project ||= await castProject(server)
    const { kept, revision: first } = await opened(server, project)
    // The write that was under way at the kill may have reached the disk before its answer could be given.
    if (underWay && isDeepStrictEqual(kept.get(underWay.id), underWay)) acknowledged.set(underWay.id, underWay)
    for (const [id, record] of acknowledged) expect(kept.get(id), `key ${id} after ${killed} kills`).toEqual(record)
    let revision = first
    try {
      for (let i = 0; ; i++) {
        const record = key('p', (4 * round + i) % 48, [round, i, revision, 10])
        underWay = record
        const { status, body } = await sendKey(server, project, `r${round}-${i}`, revision, record)
        expect(status).toBe(200)
        revision = body.revision as number
        acknowledged.set(record.id, record)
        // After a few answers, however slow the machine, and at another moment of the writing in every round.
        if (i === 2) setTimeout(() => server.kill('SIGKILL'), 4 * round)
      }
    } catch (error) {
      // The only way out is the connection that the kill cut.
      expect(String((error as Error).message)).toMatch(/fetch failed|terminated|other side closed/)
      killed++
    }
    await server.ended
  }
  expect(killed).toBe(10)
  expect(acknowledged.size).toBeGreaterThan(10)
}, 240_000)

it('a disk that takes nothing more refuses with a sentence; what is acknowledged after there is room again is kept', async () => {
  const data = await dataFolder()
  const server = await startProcess(data)
  const project = await castProject(server)
  let { revision } = await opened(server, project)
  const acknowledged = new Map<string, AnyRecord>()
  for (let round = 0; round < 6; round++) {
    // Room for a part of what one change writes, another one in every round: some are refused as late as their commit.
    server.limitFiles((await stat(join(data, 'wisp-trail.sqlite-wal'))).size + 2048 * round)
    for (let i = 0; i < 3; i++) {
      const record = key('p', 8 * round + i, [round, i, 1, 1])
      const { status, body } = await sendKey(server, project, `full-${round}-${i}`, revision, record)
      if (status === 200) {
        revision = body.revision as number
        acknowledged.set(record.id, record)
      } else {
        expect(status).toBe(507)
        expect(body.error).toMatch(/disk.*nothing was changed/)
      }
    }
    server.limitFiles(null)
    for (let i = 3; i < 6; i++) {
      const record = key('p', 8 * round + i, [round, i, 2, 2])
      const { status, body } = await sendKey(server, project, `room-${round}-${i}`, revision, record)
      expect(status).toBe(200)
      revision = body.revision as number
      acknowledged.set(record.id, record)
    }
  }
  expect(acknowledged.size).toBeLessThan(36)
  await server.stop('SIGKILL')
  const { kept, revision: after } = await opened(await startProcess(data), project)
  expect(after).toBe(revision)
  const keys = [...kept.values()].filter((record) => record.type === 'key')
  expect(new Map(keys.map((record) => [record.id, record]))).toEqual(acknowledged)
}, 120_000)
