import { copyFile, mkdir, mkdtemp, readdir, readFile, rm, stat, truncate, writeFile } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Libsql from 'libsql'
import { describe, expect, it, onTestFinished } from 'vitest'
import { start } from './main.ts'
import { cast, put } from './testServer.ts'

async function dataFolder(): Promise<string> {
  const data = await mkdtemp(join(tmpdir(), 'wisp-start-'))
  onTestFinished(() => rm(data, { recursive: true, force: true }))
  return data
}
async function running(data: string, port = 0) {
  const server = await start({ data, port })
  let stopped: Promise<void> | null = null
  const stop = () => (stopped ??= server.stop())
  onTestFinished(stop)
  const ask = async (method: string, path: string, body?: unknown) => {
    const response = await fetch(server.address + path, {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    })
    const text = await response.text()
    return { status: response.status, body: (text ? JSON.parse(text) : null) as Record<string, unknown> }
  }
  const names = async () =>
    ((await ask('GET', '/api/projects')).body as unknown as { name: string }[]).map((one) => one.name)
  return { ...server, stop, ask, names }
}
/** A folder with a project in it, whose server has stopped. */
async function filled(): Promise<string> {
  const data = await dataFolder()
  const server = await running(data)
  const { body } = await server.ask('POST', '/api/projects', { name: 'Ferry' })
  const place = `/api/projects/${body.id as string}/changes`
  await server.ask('POST', place, { id: 'c', base: 0, label: 'cast', diff: put(...cast()) })
  expect((await server.ask('POST', '/api/backups')).body).toEqual({ made: true })
  await server.stop()
  return data
}
const file = (data: string) => join(data, 'wisp-trail.sqlite')

describe('a data folder', () => {
  it('is whole after a clean stop: its database alone, copied, is the whole shelf', async () => {
    const data = await filled()
    expect((await stat(`${file(data)}-wal`).catch(() => ({ size: 0 }))).size).toBe(0)
    const copy = await dataFolder()
    await copyFile(file(data), file(copy))
    expect(await (await running(copy)).names()).toEqual(['Ferry'])
  })
  it('is kept for one server: a second one says which is running, and the first goes on', async () => {
    const data = await filled()
    const first = await running(data)
    await expect(start({ data, port: 0 })).rejects.toThrow(`open ${first.address} (process ${process.pid})`)
    expect(await first.names()).toEqual(['Ferry'])
    await first.stop()
    expect(await (await running(data)).names()).toEqual(['Ferry'])
  })
  it('is not touched where the port is taken: the sentence names another one', async () => {
    const first = await running(await dataFolder())
    const port = Number(new URL(first.address).port)
    const data = await dataFolder()
    await expect(start({ data, port })).rejects.toThrow(`Port ${port} is in use by another program`)
    expect(await readdir(data)).toEqual([])
  })
  it('that is a file is no folder to write to', async () => {
    const data = await dataFolder()
    await writeFile(join(data, 'file'), '')
    const server = await running(join(data, 'file'))
    expect((await server.ask('GET', '/api/projects')).body.error).toMatch(/can not be written to.*WISP_DATA/)
  })
})

describe('a database', () => {
  const damages: [string, (data: string) => Promise<unknown>, RegExp][] = [
    [
      'is no database',
      (data) => writeFile(file(data), 'nonsense '.repeat(900)),
      /is damaged \(it does not begin like one\)/,
    ],
    ['is cut off', async (data) => truncate(file(data), 9000), /is damaged/],
    [
      'has a damaged page',
      async (data) => {
        const bytes = await readFile(file(data))
        bytes.fill(0x5a, 4096, 5 * 4096)
        await writeFile(file(data), bytes)
      },
      /is damaged/,
    ],
    ['is empty', (data) => truncate(file(data), 0), /is empty, but there are clips or backups/],
    ['is gone', (data) => rm(file(data)), /is gone, but there are clips or backups/],
  ]
  it.each(damages)(
    'that %s gives no empty shelf but a sentence, and a backup brings everything back',
    async (_, damage, sentence) => {
      const data = await filled()
      await damage(data)
      const before = await readFile(file(data)).catch(() => null)
      const server = await running(data)
      const { status, body } = await server.ask('GET', '/api/projects')
      expect(status).toBe(503)
      expect(body.error).toMatch(sentence)
      expect(await readFile(file(data)).catch(() => null)).toEqual(before)
      const choices = body.choices as { id: string; label: string }[]
      const back = choices.find((choice) => choice.label.startsWith('Go back to'))!
      expect((await server.ask('POST', '/api/start', { id: '../../etc' })).status).toBe(422)
      expect((await server.ask('POST', '/api/start', { id: back.id })).status).toBe(204)
      expect(await server.names()).toEqual(['Ferry'])
      // What was there is kept beside it.
      const aside = (await readdir(data)).filter((name) => /^wisp-trail\.sqlite\.\d{4}-[\dT-]+$/.test(name))
      if (before) expect(await readFile(join(data, aside[0]!))).toEqual(before)
    },
  )
  it('written by a newer version is not written to', async () => {
    const data = await filled()
    const database = new Libsql(file(data))
    database.exec(`INSERT INTO migrations (timestamp, name) VALUES (9900000000000, 'Later9900000000000')`)
    database.pragma('wal_checkpoint(TRUNCATE)')
    database.close()
    const before = await readFile(file(data))
    const server = await running(data)
    expect((await server.ask('GET', '/api/projects')).body.error).toMatch(
      /newer version of Wisp Trail; nothing was touched/,
    )
    await server.stop()
    expect(await readFile(file(data))).toEqual(before)
  })
  it('copied while it is in use needs its log; without it the loss is said, and one can go on', async () => {
    const data = await filled()
    const server = await running(data)
    await server.ask('POST', '/api/projects', { name: 'Late' })
    const copy = await dataFolder()
    await copyFile(file(data), file(copy))
    const alone = await running(copy)
    const { body } = await alone.ask('GET', '/api/projects')
    expect(body.error).toMatch(/The log of .* is missing, and with it the last changes/)
    expect((await alone.ask('POST', '/api/start', { id: 'without-log' })).status).toBe(204)
    expect(await alone.names()).toEqual(['Ferry'])
    // With its log it is all there.
    const whole = await dataFolder()
    for (const ending of ['', '-wal']) await copyFile(file(data) + ending, file(whole) + ending)
    expect(await (await running(whole)).names()).toEqual(['Late', 'Ferry'])
  })
  it('with one damaged project shows the others, and says so', async () => {
    const data = await filled()
    const database = new Libsql(file(data))
    database.exec(`UPDATE part SET settings = '{broken'`)
    database.close()
    const server = await running(data)
    await server.ask('POST', '/api/projects', { name: 'Whole' })
    const { body } = await server.ask('GET', '/api/projects')
    expect(body).toMatchObject([{ name: 'Whole' }, { name: 'Ferry', damaged: true }])
    const { id } = (body as unknown as { id: string; name: string }[])[1]!
    expect((await server.ask('GET', `/api/projects/${id}`)).body.error).toMatch(/"Ferry" is damaged.*backup/)
  })
})

describe('backups', () => {
  it('bring one project or the whole shelf back, as copies beside what is there', async () => {
    const data = await filled()
    const server = await running(data)
    const [{ id }] = (await server.ask('GET', '/api/projects')).body as unknown as [{ id: string }]
    await server.ask('POST', `/api/projects/${id}/changes`, {
      ...{ id: 'r', base: 1, label: 'remove', diff: { put: [], remove: [{ type: 'part', id: 'p' }] } },
    })
    const { backups, room } = (await server.ask('GET', '/api/backups')).body as unknown as {
      backups: { name: string; bytes: number }[]
      room: number
    }
    expect(backups).toHaveLength(1)
    expect(room).toBe(2 * 1024 ** 3)
    const { name } = backups[0]!
    expect((await server.ask('GET', `/api/backups/${name}`)).body).toMatchObject([{ id, name: 'Ferry' }])
    const { ids } = (await server.ask('POST', `/api/backups/${name}/back`, { project: id })).body as unknown as {
      ids: string[]
    }
    const { records } = (await server.ask('GET', `/api/projects/${ids[0]}`)).body as unknown as {
      records: { type: string; name: string }[]
    }
    expect(records.find((one) => one.type === 'part')).toMatchObject({ name: 'shaft' })
    expect(records.find((one) => one.type === 'project')!.name).toMatch(/^Ferry of \d+ \w+,? \d\d:\d\d$/)
    expect((await server.ask('POST', `/api/backups/${name}/back`)).status).toBe(201)
    expect(await server.names()).toHaveLength(3)
    expect((await server.ask('GET', '/api/backups/..%2fwisp-trail.sqlite')).status).toBe(404)
    expect((await server.ask('GET', `/api/backups/${name}`)).body).toHaveLength(1)
  })
  it('are made only when something changed, and made before tables are brought up to date', async () => {
    const data = await filled()
    const server = await running(data)
    expect((await server.ask('POST', '/api/backups')).body).toEqual({ made: false })
    await server.stop()
    const database = new Libsql(file(data))
    // As it was before painted mattes came.
    database.exec(`DROP TABLE stroke; ALTER TABLE "key" DROP COLUMN matte;
      DELETE FROM migrations WHERE name LIKE 'PaintedMattes%'`)
    database.close()
    const before = (await readdir(join(data, 'backups'))).length
    await mkdir(join(data, 'backups'), { recursive: true })
    expect(await (await running(data)).names()).toEqual(['Ferry'])
    expect((await readdir(join(data, 'backups'))).length).toBe(before + 1)
  })
})
