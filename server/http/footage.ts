import { stat } from 'node:fs/promises'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { type NextFunction, raw, type Response, Router } from 'express'
import { type Glance, glanceBytes } from '#core/records/exchange.ts'
import { say } from '#core/say.ts'
import type { Conversions } from '../conversion/conversions.ts'
import type { LighterCopies } from '../conversion/lighterCopies.ts'
import { runJob } from '../jobs/runJob.ts'
import { type Files, isWhole, type Received } from '../media/files.ts'
import type { Facts } from '../media/mediaFacts.ts'
import { pictureAt } from '../media/pictures.ts'
import type { Database } from '../storage/database.ts'
import type { FootageRow } from '../storage/entities.ts'
import type { Projects } from '../storage/projects.ts'
import { idFrom } from './projects.ts'
import { gone, HttpRefusal, notFound } from './refusal.ts'

const notHere = () => new HttpRefusal(404, say`This footage is not on the server any more. Bring the clip in again.`)

/** One after the other where it is the same content: the first one brings it in, the others find it. */
const byHash = new Map<string, Promise<unknown>>()
async function inTurn<T>(hash: string, work: () => Promise<T>): Promise<T> {
  const before = byHash.get(hash)
  const mine = (before ?? Promise.resolve()).catch(() => {}).then(work)
  byHash.set(hash, mine)
  try {
    return await mine
  } finally {
    if (byHash.get(hash) === mine) byHash.delete(hash)
  }
}

/** What becomes of a file that is no footage as it is: see Conversions. */
type Otherwise<T> = (received: Received, refusal: HttpRefusal) => Promise<T>

/**
 * Takes a file in: facts are read before it counts as stored; the same content is stored once. A file that the browser can not
 * decode is handed to `otherwise`, where there is such a way; else that is refused.
 */
export async function takeFootage<T = never>(
  request: Readable,
  database: Database,
  files: Files,
  signal?: AbortSignal,
  otherwise?: Otherwise<T>,
): Promise<Facts | T> {
  return files.receive(request, Infinity, (received) =>
    inTurn(received.hash, async () => {
      const { file, hash, bytes, put } = received
      const to = join(files.footage, hash)
      const known = await database.read((manager) => manager.findOneBy<FootageRow>('footage', { hash }))
      if (known && (await isWhole(to, bytes))) {
        await database.write((manager) => manager.update('footage', { hash }, { stored: new Date().toISOString() }))
        return known.facts as Facts
      }
      const row = await rowOf(file, hash, bytes, signal).catch((error: unknown) => {
        if (error instanceof HttpRefusal && error.status === 415 && otherwise) return error
        throw error
      })
      if (row instanceof HttpRefusal) return otherwise!(received, row)
      await put(to, () => keepRow(database, row))
      return row.facts as Facts
    }),
  )
}

/** Facts are read in a process of its own: that may take long, and what is read is not to be trusted. */
async function rowOf(file: string, hash: string, bytes: number, signal?: AbortSignal): Promise<FootageRow> {
  const facts = await runJob<Facts>('media/reading', { file, hash, bytes }, signal)
  return { hash, bytes, facts, stored: new Date().toISOString() }
}
const keepRow = (database: Database, row: FootageRow) =>
  database.write((manager) => manager.upsert('footage', row as never, ['hash']))

/** The row of a clip; of a file that lost its row (it was away for a while, or a stop came in between) it is made anew. */
async function findFootage(database: Database, files: Files, hash: string): Promise<FootageRow | null> {
  const known = () => database.read((manager) => manager.findOneBy<FootageRow>('footage', { hash }))
  const row = await known()
  const file = join(files.footage, hash)
  const size = row
    ? 0
    : await stat(file).then(
        (found) => found.size,
        () => 0,
      )
  if (row || size === 0) return row
  return inTurn(hash, async () => {
    const meanwhile = await known()
    if (meanwhile) return meanwhile
    const made = await rowOf(file, hash, size)
    await keepRow(database, made)
    return made
  })
}

const types: Record<Facts['codec'], string> = {
  avc: 'video/mp4',
  av1: 'video/mp4',
  vp8: 'video/webm',
  vp9: 'video/webm',
  png: 'image/png',
  jpeg: 'image/jpeg',
  exr: 'image/x-exr',
  sound: 'application/octet-stream',
}

export function footageRoutes(
  database: Database,
  files: Files,
  projects: Projects,
  conversions: Conversions,
  lighter: LighterCopies,
): Router {
  const routes = Router()
  const find = async (hash: unknown): Promise<FootageRow> => {
    if (typeof hash !== 'string' || !/^[0-9a-f]{64}$/.test(hash))
      throw new HttpRefusal(404, say`There is no such footage.`)
    const row = await findFootage(database, files, hash)
    if (!row) throw notHere()
    return row
  }
  routes.post('/', async (request, response) => {
    const announced = Number(request.headers['content-length'] ?? 0)
    await files.askForRoom(announced)
    const { project, name } = request.query
    const otherwise =
      project === undefined
        ? undefined
        : async (received: Received, refusal: HttpRefusal) => {
            const id = idFrom(project, 'project')
            await projects.exists(id)
            return { conversion: await conversions.ask(id, String(name ?? 'clip'), received, refusal.message) }
          }
    const taken = await takeFootage(request, database, files, gone(response), otherwise)
    if ('conversion' in taken) return void response.status(202).json(taken)
    const { times: _, pictures: __, ...facts } = taken
    response.status(201).json(facts)
  })
  // The ends of a file before all of it is sent: hours of sending are not for nothing.
  routes.post('/glance', raw({ type: () => true, limit: 2 * glanceBytes }), async (request, response) => {
    const [bytes, ends] = [Number(request.query.bytes), request.body as Buffer]
    const head = ends.subarray(0, Number(request.query.head))
    if (!Number.isSafeInteger(bytes) || !(head.length > 0) || bytes < ends.length)
      throw new HttpRefusal(422, say`A glance takes the first and the last bytes of a file, and how many it has.`)
    await files.askForRoom(bytes)
    const seen = await files.withEnds(head, ends.subarray(head.length), bytes, async (file): Promise<Glance | null> => {
      try {
        return (await runJob<boolean>('media/reading', { glance: file }, gone(response))) ? { becomes: '' } : null
      } catch (error) {
        if (!(error instanceof HttpRefusal) || error.status !== 415) throw error
        return { becomes: (await conversions.consider(file, error.message)).called }
      }
    })
    response.json(seen)
  })
  routes.get('/:hash/facts', async (request, response) => {
    const { pictures: _, ...facts } = (await find(request.params.hash)).facts as Facts
    response.json(facts)
  })
  routes.get('/:hash/pictures/:number', async (request, response) => {
    const row = await find(request.params.hash)
    const facts = row.facts as Facts
    const place = facts.pictures?.[Number(request.params.number)]
    if (!place) throw new HttpRefusal(404, say`There is no picture of this number.`)
    const file = join(files.footage, row.hash)
    if (!(await isWhole(file, row.bytes))) throw notHere()
    response.set('Cache-Control', 'public, max-age=31536000, immutable').type(types[facts.codec])
    await pipeline(pictureAt(file, place), response)
  })
  // Content never changes under its hash. sendFile answers byte ranges.
  const sendClip = (root: string, hash: string, type: string, response: Response, next: NextFunction) =>
    response.type(type).sendFile(hash, { root, immutable: true, maxAge: '1y' }, (error) => {
      if (error && !response.headersSent) next(notFound(error) ? notHere() : error)
    })
  // Asked for before a copy is wanted, and posted to have one.
  const stateOf = async (hash: unknown, make: boolean) => lighter.of((await find(hash)).facts as Facts, make)
  routes.get('/:hash/lighter/state', async (request, response) => {
    response.json(await stateOf(request.params.hash, false))
  })
  routes.post('/:hash/lighter/state', async (request, response) => {
    response.json(await stateOf(request.params.hash, true))
  })
  routes.get('/:hash/lighter', async (request, response, next) => {
    const { hash } = await find(request.params.hash)
    sendClip(files.lighter, hash, 'video/mp4', response, next)
  })
  routes.get('/:hash', async (request, response, next) => {
    const { hash, facts } = await find(request.params.hash)
    sendClip(files.footage, hash, types[(facts as Facts).codec], response, next)
  })
  return routes
}
