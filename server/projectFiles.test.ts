import { readFile, rm, stat, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import { beforeAll, describe, expect, it } from 'vitest'
import type { AnyRecord } from '#core/records/types.ts'
import { clipOfFrames } from '../lab/support/clips.ts'
import { claimingZip } from '../lab/support/zips.ts'
import { key, projectWithClip, put, send, testServer, type TestServer } from './testServer.ts'

const takeOut = async (server: TestServer, project: string, clips = 'yes'): Promise<Buffer> =>
  (await server.http.get(`/api/projects/${project}/file?clips=${clips}`).responseType('arraybuffer').expect(200))
    .body as Buffer
const bringIn = (server: TestServer, file: Uint8Array) =>
  server.http.post('/api/projects/file').set('Content-Type', 'application/octet-stream').send(Buffer.from(file))
const recordsOf = async (server: TestServer, project: string): Promise<AnyRecord[]> => {
  const { body } = await server.http.get(`/api/projects/${project}`).expect(200)
  const order = ({ type, id }: AnyRecord) => `${type} ${id}`
  return (body.records as AnyRecord[]).sort((a, b) => order(a).localeCompare(order(b)))
}

let clip: Buffer = Buffer.alloc(0)
beforeAll(async () => void (clip = await clipOfFrames(24)))

describe('a project as a file', () => {
  it('goes out with its clip and stands on another machine as it was, mattes and all', async () => {
    const [here, there] = [await testServer(), await testServer()]
    const { id, hash } = await projectWithClip(here, clip)
    const file = await takeOut(here, id)
    const inside = unzipSync(file)
    expect(Object.keys(inside).sort()).toEqual([`media/${hash}`, 'project.json'])
    // The records are one JSON text, for whoever reads it all at once.
    expect(JSON.parse(strFromU8(inside['project.json']!))).toMatchObject({
      format: 'wisp-trail-project',
      media: [hash],
    })
    const { body } = await bringIn(there, file).expect(201)
    expect(body).toEqual({ id, name: 'Reed: Ferry/2', copied: false, missing: [] })
    expect(await recordsOf(there, id)).toEqual(await recordsOf(here, id))
    const [mine, theirs] = await Promise.all([here, there].map((one) => one.http.get(`/api/footage/${hash}`)))
    expect(theirs!.body).toEqual(mine!.body)
    const painted = (await recordsOf(there, id)).find((one) => one.type === 'key' && one.matte)
    const name = (painted as { matte: { data: string } }).matte.data.slice(1)
    const mattes = await Promise.all(
      [here, there].map((one) => one.http.post('/api/projects/mattes').send({ names: [name] })),
    )
    expect(mattes[1]!.body[name]).toBeTruthy()
    expect(mattes[1]!.body).toEqual(mattes[0]!.body)
  })

  it('is a name that every file system takes', async () => {
    const server = await testServer()
    const { id } = await projectWithClip(server, clip)
    const { headers } = await server.http.get(`/api/projects/${id}/file`).responseType('arraybuffer')
    expect(headers['content-disposition']).toBe('attachment; filename="Reed Ferry2.wisptrail"')
  })

  it('stands beside one that is on the shelf already', async () => {
    const server = await testServer()
    const { id } = await projectWithClip(server, clip)
    const { body } = await bringIn(server, await takeOut(server, id)).expect(201)
    expect(body).toMatchObject({ copied: true, missing: [] })
    expect(body.id).not.toBe(id)
    const types = async (project: string) => (await recordsOf(server, project)).map(({ type }) => type).sort()
    expect(await types(body.id)).toEqual(await types(id))
  })

  it('opens without its clips, says which are missing, and has them when they come', async () => {
    const [here, there] = [await testServer(), await testServer()]
    const { id, hash } = await projectWithClip(here, clip)
    const file = await takeOut(here, id, 'no')
    expect(file.length).toBeLessThan(4000)
    const { body } = await bringIn(there, file).expect(201)
    expect(body.missing).toEqual(['clip.mp4'])
    const clips = async () => (await there.http.get(`/api/projects/${id}/clips`).expect(200)).body.clips
    expect(await clips()).toMatchObject([{ name: 'clip.mp4', here: false }])
    const bytes = await readFile(join(here.files.footage, hash))
    await there.http.post('/api/footage').set('Content-Type', 'application/octet-stream').send(bytes).expect(201)
    expect(await clips()).toMatchObject([{ here: true }])
  })

  it('leaves also where a clip is gone from the disk', async () => {
    const [here, there] = [await testServer(), await testServer()]
    const { id, hash } = await projectWithClip(here, clip)
    await rm(join(here.files.footage, hash))
    const { body } = await bringIn(there, await takeOut(here, id)).expect(201)
    expect(body.missing).toEqual(['clip.mp4'])
  })

  it('holds more records than one change may', async () => {
    const [here, there] = [await testServer(), await testServer()]
    const { id } = await projectWithClip(here, clip)
    const many = Array.from({ length: 24_000 }, (_, i) => key('p', i + 20))
    await send(here, id, 1, put(...many.slice(0, 12_000))).expect(200)
    await send(here, id, 2, put(...many.slice(12_000))).expect(200)
    await bringIn(there, await takeOut(here, id)).expect(201)
    expect(await recordsOf(there, id)).toHaveLength((await recordsOf(here, id)).length)
    await here.http.post(`/api/projects/${id}/duplicate`).expect(201)
  }, 60_000)
})

it('of every version that was ever written opens: this one is of version 1', async () => {
  const server = await testServer()
  const file = await readFile(join(import.meta.dirname, '../lab/demo/versions/1.wisptrail'))
  const { body } = await bringIn(server, file).expect(201)
  expect(body).toMatchObject({ name: 'The Reed Ferry', copied: false })
  expect(body.missing).toHaveLength(7)
  const counts: Record<string, number> = {}
  for (const { type } of await recordsOf(server, body.id)) counts[type] = (counts[type] ?? 0) + 1
  expect(counts).toEqual({ effect: 45, key: 813, media: 7, member: 11, part: 35, project: 1, shot: 5, sound: 20 })
})

describe('what is no project file', () => {
  /** The file with its text changed. */
  const changed = (file: Uint8Array, text: (before: string) => string): Uint8Array => {
    const inside = unzipSync(file)
    return zipSync({ ...inside, 'project.json': strToU8(text(strFromU8(inside['project.json']!))) })
  }
  const refused = async (file: Uint8Array, sentence: RegExp, status = 422) => {
    const server = await testServer()
    expect((await bringIn(server, file).expect(status)).body.error).toMatch(sentence)
    expect((await server.http.get('/api/projects')).body).toEqual([])
    return server
  }
  const ours = async () => {
    const server = await testServer()
    const { id, hash } = await projectWithClip(server, clip)
    return { file: await takeOut(server, id), hash }
  }

  it('is refused with a sentence, and nothing is on the shelf', async () => {
    const { file } = await ours()
    await refused(Buffer.from('PDF, or whatever'), /no project file of Wisp Trail/)
    await refused(Buffer.alloc(0), /no project file of Wisp Trail/)
    await refused(zipSync({ 'notes.txt': strToU8('hello') }), /another program made it/)
    await refused(
      changed(file, () => '{"format":"something","version":1,"records":[]}'),
      /another program made it/,
    )
    await refused(file.subarray(0, file.length / 2), /damaged or cut short/)
    await refused(
      changed(file, (text) => text.slice(0, -200)),
      /damaged or cut short/,
    )
    await refused(
      changed(file, (text) => text.replace('"version":1', '"version":9')),
      /newer Wisp Trail \(version 9/,
    )
    await refused(
      changed(file, (text) => text.replace('"version":1', '"version":"x"')),
      /of which version/,
    )
    await refused(
      changed(file, (text) => text.replace('"kind":"rod"', '"kind":"lasso"')),
      /part was refused/,
    )
    await refused(
      changed(file, (text) => text.replace('"member":"c"', '"member":"x"')),
      /do not belong together/,
    )
    await refused(
      changed(file, (text) => text.replace('"type":"key"', '"type":"__proto__"')),
      /no record type/,
    )
    await refused(
      changed(file, (text) => text.replace(/\n\{"type":"key".*?\},?\n/, '\nnull,\n')),
      /record of the change/,
    )
  }, 60_000)

  it('is read when another program has written the same JSON in its own way', async () => {
    const { file } = await ours()
    const server = await testServer()
    const pretty = changed(file, (text) => JSON.stringify(JSON.parse(text), null, 2))
    expect((await bringIn(server, pretty).expect(201)).body).toMatchObject({ missing: [], copied: false })
  })

  it('that claims to be endless is not unpacked', async () => {
    await refused(claimingZip(10, 4_000_000_000, Buffer.alloc(10), 1, 8), /another program/)
    const { file } = await ours()
    // Its directory says that the records are larger than those of any project.
    const bomb = Buffer.from(file)
    const at = bomb.indexOf('project.json', bomb.indexOf(Buffer.from([0x50, 0x4b, 1, 2])))
    bomb.writeUInt32LE(0xfffffff0, at - 46 + 24)
    await refused(bomb, /larger than those of any project/)
    // It says less than there is: reading ends where it said.
    bomb.writeUInt32LE(100, at - 46 + 24)
    await refused(bomb, /damaged or cut short/)
  })

  it('with a clip that is not what its name says opens without that clip', async () => {
    const { file, hash } = await ours()
    const server = await testServer()
    const inside = unzipSync(file)
    inside[`media/${hash}`]!.set([1, 2, 3, 4], 2000)
    expect((await bringIn(server, zipSync(inside)).expect(201)).body.missing).toEqual(['clip.mp4'])
    // Names that lead out of the folder are not looked at.
    await refused(zipSync({ ...unzipSync(file), 'media/../../sly': strToU8('x') }), /damaged or cut short/)
  })

  it('that finds the disk full is refused whole', async () => {
    const { file } = await ours()
    const server = await testServer()
    server.files.askForRoom = async (_, what) => {
      if (what) throw Object.assign(new Error('full'), { code: 'ENOSPC' })
    }
    expect((await bringIn(server, file).expect(507)).body.error).toMatch(/disk is full/)
    expect((await server.http.get('/api/projects')).body).toEqual([])
  })
})

it('writes no half file where a clip goes while it is read', async () => {
  const server = await testServer()
  const { id, hash } = await projectWithClip(server, clip)
  // Shorter than what is announced: a reader of the zip sees that it is cut.
  const path = join(server.files.footage, hash)
  const { size } = await stat(path)
  await writeFile(path, Buffer.alloc(size))
  const file = await takeOut(server, id)
  const there = await testServer()
  expect((await bringIn(there, file).expect(201)).body.missing).toEqual(['clip.mp4'])
})
