import { join } from 'node:path'
import { type Request, Router } from 'express'
import { limits } from '#core/records/limits.ts'
import { factsOf } from '../media/facts.ts'
import type { Files } from '../media/files.ts'
import type { Facts } from '../media/mediaFacts.ts'
import { pictureAt } from '../media/pictures.ts'
import type { Database } from '../storage/database.ts'
import type { FootageRow } from '../storage/entities.ts'
import { HttpRefusal } from './refusal.ts'

/** Takes a file in: facts are read before it counts as stored; the same content is stored once. */
export async function takeFootage(
  request: Request | import('node:stream').Readable,
  database: Database,
  files: Files,
): Promise<Facts> {
  return files.receive(request, limits.uploadBytes, async (file, hash, bytes) => {
    const known = await database.read((manager) => manager.findOneBy<FootageRow>('footage', { hash }))
    if (known) return { to: null, result: known.facts as Facts }
    const facts = await factsOf(file, hash, bytes)
    await database.write((manager) =>
      manager.insert('footage', { hash, bytes, facts: facts as object, stored: new Date().toISOString() }),
    )
    return { to: join(files.footage, hash), result: facts }
  })
}

const types: Record<Facts['codec'], string> = {
  avc: 'video/mp4',
  av1: 'video/mp4',
  vp8: 'video/webm',
  vp9: 'video/webm',
  png: 'image/png',
  jpeg: 'image/jpeg',
}

export function footageRoutes(database: Database, files: Files): Router {
  const routes = Router()
  const find = async (hash: unknown): Promise<FootageRow> => {
    if (typeof hash !== 'string' || !/^[0-9a-f]{64}$/.test(hash))
      throw new HttpRefusal(404, 'There is no such footage.')
    const row = await database.read((manager) => manager.findOneBy<FootageRow>('footage', { hash }))
    if (!row) throw new HttpRefusal(404, 'This footage is not on the server any more. Bring the clip in again.')
    return row
  }
  routes.post('/', async (request, response) => {
    const announced = Number(request.headers['content-length'])
    if (announced > limits.uploadBytes)
      throw new HttpRefusal(
        413,
        `The file is larger than ${limits.uploadBytes / 1024 ** 2} MB, the most that fits. Cut it into shorter clips.`,
      )
    const { times: _, pictures: __, ...facts } = await takeFootage(request, database, files)
    response.status(201).json(facts)
  })
  routes.get('/:hash/facts', async (request, response) => {
    const { pictures: _, ...facts } = (await find(request.params.hash)).facts as Facts
    response.json(facts)
  })
  routes.get('/:hash/pictures/:number', async (request, response) => {
    const row = await find(request.params.hash)
    const facts = row.facts as Facts
    const place = facts.pictures?.[Number(request.params.number)]
    if (!place) throw new HttpRefusal(404, 'There is no picture of this number.')
    const data = await pictureAt(join(files.footage, row.hash), place).catch(() => {
      throw new HttpRefusal(404, 'This footage is not on the server any more. Bring the clip in again.')
    })
    response.set('Cache-Control', 'public, max-age=31536000, immutable').type(types[facts.codec]).send(data)
  })
  routes.get('/:hash', async (request, response, next) => {
    const row = await find(request.params.hash)
    response.type(types[(row.facts as Facts).codec])
    // Content never changes under its hash. sendFile answers byte ranges.
    response.sendFile(row.hash, { root: files.footage, immutable: true, maxAge: '1y' }, (error) => {
      if (error && !response.headersSent)
        next(new HttpRefusal(404, 'This footage is not on the server any more. Bring the clip in again.'))
    })
  })
  return routes
}
