import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import request from 'supertest'
import { onTestFinished } from 'vitest'
import type { Diff } from '#core/records/diff.ts'
import { makeKey } from '#core/records/make.ts'
import type { AnyRecord, Key, Media } from '#core/records/types.ts'
import { makePaintedKey, makePart } from '#core/shapes/make.ts'
import { createServer, type ServerOptions } from './app.ts'

/** A server on a data folder of its own, gone after the test. */
export async function testServer(options: Partial<ServerOptions> = {}) {
  const data = options.data ?? (await mkdtemp(join(tmpdir(), 'wisp-')))
  const server = await createServer({ data, ...options })
  let stopped: Promise<void> | null = null
  const close = () => (stopped ??= server.close())
  onTestFinished(async () => {
    await close()
    if (!options.data) await rm(data, { recursive: true, force: true })
  })
  return { ...server, close, data, http: request(server.app) }
}
export type TestServer = Awaited<ReturnType<typeof testServer>>

export const media = (id = 'm'): Media => ({
  ...{ type: 'media', id, name: 'clip.mp4', hash: 'a'.repeat(64), codec: 'avc', audio: '', width: 640, height: 360 },
  ...{
    rotation: 0,
    frames: 48,
    rate: 24,
    variableRate: false,
    seconds: 2,
    bytes: 1000,
    matrix: 'bt709',
    range: 'limited',
    tagged: true,
  },
})
export const key = (part: string, frame: number, points = [0, 0, 10, 10]): Key => makeKey(part, frame, points)

/** A shot with a prop that has a rod: ids m, s, c, p with `suffix`. */
export const cast = (suffix = ''): AnyRecord[] => [
  media(`m${suffix}`),
  { type: 'shot', id: `s${suffix}`, media: `m${suffix}`, name: 'Shot', order: 1, in: 0, out: 48, join: 0 },
  { type: 'member', id: `c${suffix}`, shot: `s${suffix}`, name: 'Prop', kind: 'prop', colour: 0, order: 1 },
  makePart({ id: `p${suffix}`, member: `c${suffix}`, name: 'shaft', kind: 'rod', order: 1 }),
]
export const put = (...records: AnyRecord[]): Diff => ({ put: records, remove: [] })

let changes = 0
/** Sends a change and gives the answer. */
export const send = (
  server: TestServer,
  project: string,
  base: number,
  diff: unknown,
  { id = `change-${changes++}`, ...more }: { id?: string; step?: object } = {},
) => server.http.post(`/api/projects/${project}/changes`).send({ id, base, label: 'test', diff, ...more })

export async function newProject(server: TestServer, name = 'Ferry'): Promise<string> {
  const { body } = await server.http.post('/api/projects').send({ name }).expect(201)
  return (body as { id: string }).id
}

/** A project with this clip of 24 frames (320 × 180), a rod with keys and a painted part with a matte. */
export async function projectWithClip(server: TestServer, clip: Buffer): Promise<{ id: string; hash: string }> {
  const { body: facts } = await server.http
    .post('/api/footage')
    .set('Content-Type', 'application/octet-stream')
    .send(clip)
    .expect(201)
  const [media, shot, ...others] = cast() as [Media, ...AnyRecord[]]
  const id = await newProject(server, 'Reed: Ferry/2')
  const matte = { x: 4, y: 4, width: 8, height: 8, data: Uint8Array.from({ length: 64 }, (_, i) => i * 4) }
  const records = [
    ...[{ ...media, ...facts, name: 'clip.mp4' }, { ...shot!, out: 24 } as AnyRecord, ...others],
    ...[key('p', 0), key('p', 12, [3, 4, 50, 60])],
    makePart({ id: 'q', member: 'c', name: 'paint', kind: 'painted', order: 2 }),
    makePaintedKey('q', 0, matte, null),
  ]
  await send(server, id, 0, put(...records)).expect(200)
  return { id, hash: facts.hash as string }
}
