import { type ChildProcess, spawn } from 'node:child_process'
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isDeepStrictEqual } from 'node:util'
import { expect, it, onTestFinished } from 'vitest'
import type { AnyRecord } from '#core/records/types.ts'
import { cast, key, put } from './testServer.ts'

const root = join(import.meta.dirname, '..')

/** The real server as a process of its own; resolves when it listens. */
async function startProcess(data: string): Promise<{ child: ChildProcess; address: string }> {
  const child = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
    cwd: root,
    env: { ...process.env, WISP_DATA: data, WISP_PORT: '0' },
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  // Whatever becomes of the test, its server does not outlive it.
  onTestFinished(() => void child.kill('SIGKILL'))
  const address = await new Promise<string>((done, fail) => {
    child.once('exit', (code) => fail(new Error(`The server ended with ${code} before it listened.`)))
    child.stdout!.on('data', (chunk: Buffer) => {
      const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(chunk))
      if (found) done(found[0])
    })
  })
  return { child, address }
}

it('every acknowledged key outlives SIGKILL in the middle of edits, ten times over', async () => {
  const data = await mkdtemp(join(tmpdir(), 'wisp-kill-'))
  onTestFinished(() => rm(data, { recursive: true, force: true }))
  const acknowledged = new Map<string, AnyRecord>()
  let project = ''
  let killed = 0
  let underWay: AnyRecord | null = null
  for (let round = 0; round < 10; round++) {
    const { child, address } = await startProcess(data)
    const api = async (method: string, path: string, body?: unknown) => {
      const response = await fetch(address + path, {
        method,
        headers: { 'Content-Type': 'application/json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      })
      return { status: response.status, body: (await response.json()) as Record<string, never> }
    }
    if (!project) {
      project = (await api('POST', '/api/projects', { name: 'Ferry' })).body.id!
      await api('POST', `/api/projects/${project}/changes`, {
        id: 'cast',
        base: 0,
        label: 'cast',
        diff: put(...cast()),
      })
    }
    const { body: opened } = await api('GET', `/api/projects/${project}`)
    const kept = new Map((opened.records as unknown as AnyRecord[]).map((record) => [record.id, record]))
    // The write that was under way at the kill may have reached the disk before its answer could be given.
    if (underWay && isDeepStrictEqual(kept.get(underWay.id), underWay)) acknowledged.set(underWay.id, underWay)
    for (const [id, record] of acknowledged) expect(kept.get(id), `key ${id} after ${killed} kills`).toEqual(record)
    let revision: number = opened.revision!
    const ended = new Promise((done) => child.once('exit', done))
    try {
      for (let i = 0; ; i++) {
        const record = key('p', (4 * round + i) % 48, [round, i, revision, 10])
        underWay = record
        const { status, body } = await api('POST', `/api/projects/${project}/changes`, {
          id: `r${round}-${i}`,
          base: revision,
          label: 'key',
          diff: put(record),
        })
        expect(status).toBe(200)
        revision = body.revision!
        acknowledged.set(record.id, record)
        // After a few answers, however slow the machine, and at another moment of the writing in every round.
        if (i === 2) setTimeout(() => child.kill('SIGKILL'), 4 * round)
      }
    } catch (error) {
      // The only way out is the connection that the kill cut.
      expect(String((error as Error).message)).toMatch(/fetch failed|terminated|other side closed/)
      killed++
    }
    await ended
  }
  expect(killed).toBe(10)
  expect(acknowledged.size).toBeGreaterThan(10)
}, 240_000)
