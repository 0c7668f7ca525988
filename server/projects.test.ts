import { mkdtemp } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Libsql from 'libsql'
import { describe, expect, it } from 'vitest'
import { rasterFrom } from '#core/pixels/buffers/raster.ts'
import type { Diff } from '#core/records/diff.ts'
import type { PastChange } from '#core/records/exchange.ts'
import { makeKey } from '#core/records/make.ts'
import { type Key, keyId } from '#core/records/types.ts'
import { makePaintedKey, makePart } from '#core/shapes/make.ts'
import { cast, key, media, newProject, put, send, testServer } from './testServer.ts'

const run = (from: number, step: number, length: number) => ({ from, step, length, between: 'blended' })
const removal = (type: 'part' | 'project' | 'key', id: string): Diff => ({ put: [], remove: [{ type, id }] })

describe('the shelf', () => {
  it('makes, renames, duplicates, deletes and brings back a project', async () => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast(), key('p', 0), key('p', 23))).expect(200)
    const { body: opened } = await server.http.get(`/api/projects/${id}`)
    const project = opened.records.find((record: { type: string }) => record.type === 'project')
    await send(server, id, 1, put({ ...project, name: ' Reed Ferry ' })).expect(200)
    const { body: list } = await server.http.get('/api/projects')
    expect(list).toMatchObject([{ id, name: 'Reed Ferry', shots: 1, frames: 48, seconds: 2, traced: 0.5 }])

    const { body: copy } = await server.http.post(`/api/projects/${id}/duplicate`).expect(201)
    const { body: copied } = await server.http.get(`/api/projects/${copy.id}`)
    const kinds = (records: { type: string }[]) => records.map((record) => record.type).sort()
    expect(kinds(copied.records)).toEqual(kinds(opened.records))
    const ids = new Set(opened.records.map((record: { id: string }) => record.id))
    expect(copied.records.some((record: { id: string }) => ids.has(record.id))).toBe(false)

    await server.http.delete(`/api/projects/${id}`).expect(204)
    await server.http.get(`/api/projects/${id}`).expect(404)
    await server.http.post(`/api/projects/${id}/restore`).expect(204)
    expect((await server.http.get(`/api/projects/${id}`)).body.records).toHaveLength(7)
  })
  it('refuses an empty or endless name, an unknown project and a body that is no JSON', async () => {
    const server = await testServer()
    expect((await server.http.post('/api/projects').send({ name: '  ' }).expect(422)).body.error).toMatch(
      /name is empty/,
    )
    expect(
      (
        await server.http
          .post('/api/projects')
          .send({ name: 'x'.repeat(99) })
          .expect(422)
      ).body.error,
    ).toMatch(/too long/)
    expect((await server.http.get('/api/projects/nobody').expect(404)).body.error).toMatch(/no such project.*shelf/)
    const broken = server.http.post('/api/projects').set('Content-Type', 'application/json').send('{"name":')
    expect((await broken.expect(400)).body.error).toMatch(/not valid JSON/)
  })
})

describe('changes', () => {
  it('keep how a shot runs', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const shot = cast()[1]!
    const timing = [run(0, 1, 12), run(11, 0, 5), run(12, 0.5, 71)]
    await send(server, id, 0, put(...cast())).expect(200)
    await send(server, id, 1, put({ ...shot, timing } as never)).expect(200)
    const opened = async () => {
      const { body } = await server.http.get(`/api/projects/${id}`)
      return body.records.find((record: { type: string }) => record.type === 'shot').timing
    }
    expect(await opened()).toEqual(timing)
    expect((await server.http.get('/api/projects')).body[0]).toMatchObject({ frames: 88 })
    await send(server, id, 2, put({ ...shot, timing: null } as never)).expect(200)
    expect(await opened()).toBeNull()
  })
  it('are told with what takes them back, mattes and all, up to a revision', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const matte = makePart({ id: 'matte', member: 'c', name: 'matte', kind: 'painted', order: 9 })
    const raster = { x: 1, y: 1, width: 2, height: 1, data: Uint8Array.of(3, 9) }
    const painted = makePaintedKey('matte', 4, raster, null)
    await send(server, id, 0, put(...cast(), key('p', 1), matte, painted)).expect(200)
    await send(server, id, 1, put(key('p', 1, [9, 9, 9, 9]), key('p', 2))).expect(200)
    const gone = ['p@1', 'p@2', painted.id].map((key) => ({ type: 'key' as const, id: key }))
    const parts = ['p', 'matte'].map((part) => ({ type: 'part' as const, id: part }))
    await send(server, id, 2, { put: [], remove: [...parts, ...gone] }).expect(200)
    const asked = (until: unknown) => server.http.get(`/api/projects/${id}/history?until=${String(until)}`)
    const past = (await asked(3).expect(200)).body as PastChange[]
    expect(past.map(({ revision, step }) => [revision, step.way])).toEqual(
      [1, 2, 3].map((revision) => [revision, 'do']),
    )
    expect(past[1]!.back).toMatchObject({ put: [{ id: 'p@1', points: key('p', 1).points }], remove: [{ id: 'p@2' }] })
    expect((await asked(2)).body).toHaveLength(2)
    // What takes the deletion back is taken by the server as it stands; the pixels are still there.
    const named = past[2]!.back!.put.find((record) => record.id === painted.id) as Key
    expect(named.matte!.data).toMatch(/^#/)
    const step = { id: past[2]!.step.id, way: 'undo' as const }
    await send(server, id, 3, past[2]!.back!, { step }).expect(200)
    const records = (await server.projects.whole(id)).records
    expect(records.find((record) => record.id === painted.id)).toEqual(painted)
    expect(records.find((record) => record.id === 'p@1')).toMatchObject({ points: [9, 9, 9, 9] })
    expect(((await asked(4)).body as PastChange[]).at(-1)!.step).toEqual(step)
    // The name of a stage changes nothing, and is kept.
    const stage = { id: 'stage', way: 'stage' as const }
    await send(server, id, 4, { put: [], remove: [] }, { step: stage }).expect(200)
    expect(((await asked(5)).body as PastChange[]).at(-1)).toMatchObject({ step: stage, back: { put: [], remove: [] } })
    for (const wrong of ['', 'x', -1, 1.5]) await asked(wrong).expect(422)
    await send(server, id, 5, put(), { step: { id: '../x', way: 'do' } }).expect(422)
    await send(server, id, 5, put(), { step: { id: 'x', way: 'away' } }).expect(422)
    // Who is behind the log can be gone back to as far as it reaches.
    await server.database.write((manager) => manager.delete('change', { project: id, revision: 1 }))
    expect(((await asked(5)).body as PastChange[])[0]!.revision).toBe(2)
  })
  it('are whole or not at all', async () => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast())).expect(200)
    // The second key does not fit its part: the first must not stay either.
    const { body } = await send(server, id, 1, put(key('p', 1), key('p', 2, [0, 0, 1, 1, 2, 2]))).expect(422)
    expect(body.error).toMatch(/same number of points \(2 or 4\)/)
    const { body: after } = await server.http.get(`/api/projects/${id}`)
    expect(after.revision).toBe(1)
    expect(after.records.filter((record: { type: string }) => record.type === 'key')).toEqual([])
  })
  it('keep the strokes and the pixels of a painted part; what is no matte is refused with a sentence', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const member = cast().find((record) => record.type === 'member')!
    const part = makePart({ id: 'matte', member: member.id, name: 'matte', kind: 'painted', order: 9 })
    const raster = { x: 12, y: 30, width: 3, height: 2, data: Uint8Array.of(0, 128, 255, 7, 255, 255) }
    const painted = makePaintedKey('matte', 4, raster, 0.8)
    const stroke = {
      ...{ type: 'stroke' as const, id: 's1', part: 'matte', frame: 4, order: 1, wanted: true, size: 12 },
      points: [10, 20, 14, 22],
    }
    await send(server, id, 0, put(...cast(), part, painted, stroke)).expect(200)
    const { records } = await server.projects.whole(id)
    expect(records.find((record) => record.id === 's1')).toEqual(stroke)
    const kept = records.find((record) => record.id === painted.id)
    expect(kept).toEqual(painted)
    expect(rasterFrom((kept as typeof painted).matte!)).toEqual(raster)
    const bad = { ...painted, matte: { ...painted.matte!, data: 'not base 64!' } }
    const { body } = await send(server, id, 1, put(bad)).expect(422)
    expect(body.error).toMatch(/base 64/)
    const thin = await send(server, id, 1, put({ ...stroke, size: 0 })).expect(422)
    expect(thin.body.error).toMatch(/at least 1 px/)
    await send(server, id, 1, { put: [], remove: [{ type: 'stroke', id: 's1' }] }).expect(200)
  })

  it('name the pixels of mattes; those come when they are asked for, and go when no undo can want them', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const part = makePart({ id: 'matte', member: 'c', name: 'matte', kind: 'painted', order: 9 })
    const raster = (level: number) => ({ x: 1, y: 1, width: 2, height: 1, data: Uint8Array.of(level, 9) })
    const [first, second] = [makePaintedKey('matte', 4, raster(1), null), makePaintedKey('matte', 4, raster(2), null)]
    await send(server, id, 0, put(...cast(), part, first)).expect(200)
    const opened = async () => (await server.projects.open(id)).records.find((one) => one.id === first.id) as Key
    const named = (await opened()).matte!.data
    expect(named).toMatch(/^#[\w-]{22}$/)
    const { body } = await server.http.post('/api/projects/mattes').send({ names: [named.slice(1), 'nothing'] })
    expect(body).toEqual({ [named.slice(1)]: first.matte!.data })
    // Named as it was opened it can be put again, on another frame, too; what nobody knows is refused.
    await send(server, id, 1, put({ ...(await opened()), frame: 5, id: 'matte@5' })).expect(200)
    const strange = { ...first, matte: { ...first.matte!, data: `#${'x'.repeat(22)}` } }
    expect((await send(server, id, 2, put(strange)).expect(422)).body.error).toMatch(/not on the server any more/)
    await send(server, id, 2, put(second)).expect(200)
    await send(server, id, 3, { put: [], remove: [{ type: 'key', id: 'matte@5' }] }).expect(200)
    const log = await server.projects.changesSince(id, 0)
    expect(JSON.stringify(log)).not.toContain(first.matte!.data)
    // While the log names it, and for 30 days after that, it stays.
    const day = 86_400_000
    const stays = async () => (await server.projects.mattes([named.slice(1)])).size === 1
    await server.projects.sweep(Date.now() + 90 * day)
    expect(await stays()).toBe(true)
    await server.database.write((manager) => manager.clear('change'))
    for (const days of [100, 129, 131]) {
      expect(await stays()).toBe(true)
      await server.projects.sweep(Date.now() + days * day)
    }
    expect(await stays()).toBe(false)
    expect((await server.projects.whole(id)).records.find((one) => one.id === second.id)).toEqual(second)
  })
  it('are opened as they are at one moment, a record a line, whatever is written meanwhile', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const keys = Array.from({ length: 5000 }, (_, i) => key('p', i, [i, 1 / 3, 1e-7, -2.5]))
    await send(server, id, 0, put(...cast(), ...keys)).expect(200)
    const stream = await server.projects.stream(id)
    const read = [stream.text.next().value as string, stream.text.next().value as string]
    // The writing neither waits for the reading nor shows in it.
    await send(server, id, 1, { put: [key('p', 1, [7, 7, 7, 7])], remove: [{ type: 'key', id: 'p@2' }] }).expect(200)
    const text = [...read, ...stream.text].join('')
    stream.close()
    expect(Math.max(...read.map(({ length }) => length))).toBeLessThan(text.length / 4)
    const { revision, records } = JSON.parse(text) as { revision: number; records: { type: string }[] }
    expect(revision).toBe(1)
    expect(text.split('\n')).toHaveLength(records.length + 2)
    expect(records.filter((one) => one.type === 'key')).toEqual(keys.map((one) => ({ ...one, matte: null })))
    expect((await server.http.get(`/api/projects/${id}`)).body).toMatchObject({ revision: 2 })
  })

  it('keep how sure a followed key is, until a hand sets it', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const followed = makeKey('p', 3, [0, 0, 10, 10], '', 0.625)
    await send(server, id, 0, put(...cast(), followed)).expect(200)
    const kept = async () =>
      (await server.projects.open(id)).records.find((record) => record.id === followed.id) as { followed: unknown }
    expect((await kept()).followed).toBe(0.625)
    await send(server, id, 1, put(makeKey('p', 3, [0, 0, 11, 10]))).expect(200)
    expect((await kept()).followed).toBeNull()
    const { body } = await send(server, id, 2, put({ ...followed, followed: 1.5 })).expect(422)
    expect(body.error).toMatch(/confidence lies between 0 and 1/)
  })
  it('based on an older state are laid over what is newer, unless they clash; sent twice they count once', async () => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast()), { id: 'first' }).expect(200)
    await send(server, id, 1, put(key('p', 3)), { id: 'second' }).expect(200)
    expect((await send(server, id, 0, put(...cast()), { id: 'first' }).expect(200)).body).toMatchObject({
      accepted: true,
      revision: 1,
    })
    const newer = [{ id: 'second', revision: 2, diff: put(key('p', 3)) }]
    const { body: taken } = await send(server, id, 1, put(key('p', 4)), { id: 'third' }).expect(200)
    expect(taken).toMatchObject({ accepted: true, revision: 3, newer })
    const { body: clash } = await send(server, id, 1, put(key('p', 3, [5, 5, 9, 9]))).expect(409)
    expect(clash).toMatchObject({ accepted: false, revision: 3, newer: [...newer, { id: 'third' }] })
    // What hangs on something that is gone clashes, too.
    await send(server, id, 3, removal('part', 'p')).expect(200)
    await send(server, id, 3, put(key('p', 5))).expect(409)
    expect((await send(server, id, 9, put(key('p', 4))).expect(412)).body.error).toMatch(/later state/)
  })
  it.each([
    ['breaks the schema', put({ ...key('p', 1), points: [0, 0, 'x', 1] } as never), /coordinate must be a number/],
    ['hangs on nothing', put(key('nobody', 1)), /not in this project any more/],
    ['removes the project itself', removal('project', 'x'), /deleted on the shelf/],
    ['ends a shot before it begins', put({ ...cast()[1], in: 9, out: 9 } as never), /after its in point/],
    ['goes beyond the clip', put({ ...cast()[1], out: 4000 } as never), /end of its clip, which has 48 frames/],
    [
      'runs on behind the clip',
      put({ ...cast()[1], timing: [run(40, 1, 9)] } as never),
      /end of its clip, which has 48/,
    ],
    ['runs before the clip', put({ ...cast()[1], timing: [run(-1, 1, 9)] } as never), /can not begin before its clip/],
    ['runs by no length', put({ ...cast()[1], timing: [run(3, 1, 0)] } as never), /lasts a frame at least/],
    [
      'makes another kind of a part with keys',
      put({ ...cast()[3], kind: 'oval', settings: {} } as never),
      /same number/,
    ],
    ['makes a clip shorter than its shots', put({ ...cast()[0], frames: 30 } as never), /"Shot" goes on after the end/],
    ['holds a zero byte', put({ ...cast()[2], name: 'a\0b' } as never), /character that can not be kept/],
    ['holds half a character', put({ ...cast()[2], name: 'a\ud800' } as never), /character that can not be kept/],
    ['has an absurd rate', put({ ...cast()[0], rate: 1e-300 } as never), /one frame in 100 seconds/],
    [
      'carries a strange field',
      put({ ...cast()[2], extra: 1 } as never),
      /member was refused: It carries a field.*extra/,
    ],
    [
      'lacks what nobody wrote a sentence for',
      put({ ...cast()[3], hold: 7 } as never),
      /holding at the ends must be yes or no/,
    ],
    ['holds nothing at all', put(null as never), /does not say of what type/],
    ['is no diff', { put: 7 }, /lists "put" and "remove"/],
  ])('that %s are refused with a sentence', async (_, diff, sentence) => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast(), key('p', 0))).expect(200)
    expect((await send(server, id, 1, diff).expect(422)).body.error).toMatch(sentence)
    expect((await server.http.get(`/api/projects/${id}`)).body.revision).toBe(1)
  })
  it('never reach into another project', async () => {
    const server = await testServer()
    const [mine, theirs] = [await newProject(server, 'Mine'), await newProject(server, 'Theirs')]
    await send(server, theirs, 0, put(...cast('-t'), key('p-t', 1))).expect(200)
    await send(server, mine, 0, put(...cast('-m'))).expect(200)
    expect((await send(server, mine, 1, put({ ...media('m-t'), name: 'stolen' })).expect(422)).body.error).toMatch(
      /another project/,
    )
    expect((await send(server, mine, 1, put(key('p-t', 5))).expect(422)).body.error).toMatch(/another project/)
    await send(server, mine, 1, removal('part', 'p-t')).expect(200)
    expect((await server.http.get(`/api/projects/${theirs}`)).body.records).toHaveLength(6)
  })
  it('reach a second tab by the live line, from where it was', async () => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast())).expect(200)
    const listener = server.app.listen(0, '127.0.0.1')
    await new Promise((done) => listener.once('listening', done))
    const { port } = listener.address() as { port: number }
    const stop = new AbortController()
    const live = await fetch(`http://127.0.0.1:${port}/api/projects/${id}/live?since=0`, { signal: stop.signal })
    const reader = live.body!.pipeThrough(new TextDecoderStream()).getReader()
    await send(server, id, 1, put(key('p', 7)), { id: 'now' }).expect(200)
    let heard = ''
    while (!heard.includes('"id":"now"')) heard += (await reader.read()).value ?? ''
    const revisions = [...heard.matchAll(/^data: (.*)$/gm)].map(
      (match) => (JSON.parse(match[1]!) as { revision: number }).revision,
    )
    expect(revisions).toEqual([1, 2])
    stop.abort()
    listener.closeAllConnections()
    await new Promise((done) => listener.close(done))
  })
  it('wait with a sentence while another program holds the database', async () => {
    const data = await mkdtemp(join(tmpdir(), 'wisp-locked-'))
    const server = await testServer({ data })
    const id = await newProject(server)
    const other = new Libsql(join(data, 'wisp-trail.sqlite'))
    other.exec('BEGIN IMMEDIATE')
    const { body } = await send(server, id, 0, put(...cast()), { id: 'held' }).expect(503)
    expect(body.error).toMatch(/in use by another program/)
    other.exec('ROLLBACK')
    other.close()
    await send(server, id, 0, put(...cast()), { id: 'held' }).expect(200)
  })
})

describe('riding', () => {
  it('in a circle is refused with a sentence, and nothing of the change stays', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const [media, shot, member] = cast()
    const part = (name: string, on: string | null) =>
      makePart({
        ...{ id: name, member: 'c', name, kind: 'rod', order: 1 },
        ride: on ? { on, from: [{ part: on, points: [0, 0, 10, 10] }] } : null,
      })
    await send(server, id, 0, put(media!, shot!, member!, part('a', null), part('b', 'a'))).expect(200)
    const { body } = await send(server, id, 1, put(part('a', 'b'))).expect(422)
    expect(body.error).toMatch(/would ride on itself/)
    const { records } = await server.projects.open(id)
    expect(records.find((record) => record.id === 'a')).toMatchObject({ ride: null })
    expect(records.find((record) => record.id === 'b')).toMatchObject({ ride: { on: 'a' } })
  })
  it('a duplicated project rides among its own parts', async () => {
    const server = await testServer()
    const id = await newProject(server)
    const rider = makePart({
      ...{ id: 'q', member: 'c', name: 'ring', kind: 'rod', order: 2 },
      ride: { on: 'p', from: [{ part: 'p', points: [0, 0, 10, 10] }] },
    })
    await send(server, id, 0, put(...cast(), rider)).expect(200)
    const copy = await server.projects.duplicate(id)
    const { records } = await server.projects.open(copy)
    const parts = records.filter((record) => record.type === 'part')
    const [shaft, ring] = ['shaft', 'ring'].map((name) => parts.find((part) => part.name === name)!)
    expect(shaft!.id).not.toBe('p')
    expect(ring!.ride).toMatchObject({ on: shaft!.id, from: [{ part: shaft!.id }] })
  })
})

describe('the database', () => {
  it('has the tables that the entities describe', async () => {
    const { database } = await testServer()
    const log = await database.read((manager) => manager.connection.driver.createSchemaBuilder().log())
    expect(log.upQueries.map((query) => query.query)).toEqual([])
  })
})

describe('a tab that lags behind', () => {
  it('is told to reload once the log does not reach back to it; nothing is overwritten', async () => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast())).expect(200)
    await send(server, id, 1, put(key('p', 1))).expect(200)
    await server.database.write((manager) => manager.delete('change', { project: id, revision: 1 }))
    const { body } = await send(server, id, 0, put(key('p', 9))).expect(410)
    expect(body.error).toMatch(/too far behind.*Reload/)
    expect((await server.http.get(`/api/projects/${id}`)).body.revision).toBe(2)
  })
  it('a large change fits, a larger one is refused with a sentence', async () => {
    const server = await testServer()
    const id = await newProject(server)
    await send(server, id, 0, put(...cast())).expect(200)
    const keys = Array.from({ length: 2000 }, (_, frame) => key('p', frame))
    await send(server, id, 1, put(...keys)).expect(200)
    const tooMany = Array.from({ length: 20_001 }, (_, frame) => ({ type: 'key', id: keyId('p', frame) }))
    expect((await send(server, id, 2, { put: [], remove: tooMany }).expect(422)).body.error).toMatch(
      /at most 20000 records/,
    )
    await send(server, id, 2, removal('part', 'p')).expect(200)
    // What hung on the part went with it.
    expect((await server.http.get(`/api/projects/${id}`)).body.records).toHaveLength(4)
  })
})
