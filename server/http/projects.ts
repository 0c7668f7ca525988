import { writeFile } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import express, { Router } from 'express'
import type { StepOfChange } from '#core/records/exchange.ts'
import { isKeepable } from '#core/records/keepable.ts'
import { say } from '#core/say.ts'
import type { Files } from '../media/files.ts'
import type { Projects } from '../storage/projects.ts'
import { LiveLines } from './live.ts'
import { HttpRefusal } from './refusal.ts'

/** How many mattes go into one answer. */
const mostMattes = 100
const idPattern = /^[A-Za-z0-9_-]{1,80}$/

/** An id from the address, or a refusal: only what passes here may become part of a file name. */
export function idFrom(value: unknown, what: string): string {
  if (typeof value !== 'string' || !idPattern.test(value)) throw new HttpRefusal(404, say`There is no such ${what}.`)
  return value
}

const ways: readonly unknown[] = ['do', 'undo', 'redo', 'stage']

/** The undo step that a change says it belongs to; none where it says nothing of it. */
function stepFrom(told: unknown): { step?: StepOfChange } {
  if (told === undefined) return {}
  const { id, way } = (told ?? {}) as Record<string, unknown>
  if (typeof id !== 'string' || !idPattern.test(id) || !ways.includes(way))
    throw new HttpRefusal(422, say`A change names its undo step by an id and by what it is to it.`)
  return { step: { id, way: way as StepOfChange['way'] } }
}

export function projectRoutes(projects: Projects, files: Files): Router {
  const routes = Router()
  const live = new LiveLines()
  const json = express.json({ limit: '64mb' })

  routes.get('/', async (_request, response) => {
    response.json(await projects.list())
  })
  routes.post('/', json, async (request, response) => {
    const name: unknown = (request.body as { name?: unknown } | undefined)?.name
    response.status(201).json({ id: await projects.create(typeof name === 'string' ? name : '') })
  })
  // A record a line: neither side ever holds the whole of it as one text.
  routes.get('/:id', async (request, response) => {
    const { text, close } = await projects.stream(idFrom(request.params.id, 'project'))
    try {
      await pipeline(Readable.from(text, { objectMode: false, highWaterMark: 2 ** 18 }), response.type('json'))
    } finally {
      close()
    }
  })
  routes.post('/:id/duplicate', async (request, response) => {
    const project = idFrom(request.params.id, 'project')
    const id = await projects.duplicate(project)
    await files.copyThumbnail(project, id)
    response.status(201).json({ id })
  })
  routes.delete('/:id', async (request, response) => {
    await projects.setDeleted(idFrom(request.params.id, 'project'), true)
    response.status(204).end()
  })
  routes.post('/:id/restore', async (request, response) => {
    await projects.setDeleted(idFrom(request.params.id, 'project'), false)
    response.status(204).end()
  })

  // Asked for with the pictures that need them; a name is made of the content, so it says nothing of whose they are.
  routes.post('/mattes', json, async (request, response) => {
    const names: unknown = (request.body as { names?: unknown } | undefined)?.names
    if (!Array.isArray(names) || names.length > mostMattes || !names.every((name) => typeof name === 'string'))
      throw new HttpRefusal(422, say`Mattes are asked for by their names, ${mostMattes} at most at once.`)
    response.json(Object.fromEntries(await projects.mattes(names)))
  })

  routes.post('/:id/changes', json, async (request, response) => {
    const project = idFrom(request.params.id, 'project')
    const body = (request.body ?? {}) as Record<string, unknown>
    if (typeof body.id !== 'string' || !idPattern.test(body.id))
      throw new HttpRefusal(422, say`A change needs an id of its own.`)
    if (typeof body.base !== 'number' || !Number.isInteger(body.base) || body.base < 0)
      throw new HttpRefusal(422, say`A change needs the revision it is based on.`)
    if (typeof body.label !== 'string' || !isKeepable(body.label))
      throw new HttpRefusal(422, say`A change needs a label in plain words.`)
    const label = body.label.slice(0, 200)
    const change = { id: body.id, base: body.base, label, diff: body.diff, ...stepFrom(body.step) }
    const { answer, stored } = await projects.commit(project, change)
    response.status(answer.accepted ? 200 : 409).json(answer)
    if (stored) live.tell(project, stored)
  })

  // What was done up to a revision, with what takes it back: an undo reaches past the opening of a page.
  routes.get('/:id/history', async (request, response) => {
    const { until } = request.query
    if (typeof until !== 'string' || !/^\d{1,9}$/.test(until))
      throw new HttpRefusal(422, say`A history is asked for up to the revision that is known.`)
    response.json(await projects.past(idFrom(request.params.id, 'project'), Number(until)))
  })

  routes.get('/:id/live', async (request, response) => {
    const project = idFrom(request.params.id, 'project')
    const since = LiveLines.heard(request)
    await projects.exists(project)
    live.open(project, request, response)
    // What happened between the reading of the project and this line.
    if (Number.isInteger(since))
      for (const change of await projects.changesSince(project, since)) if (!LiveLines.say(response, change)) return
  })

  routes.put('/:id/thumbnail', express.raw({ type: 'image/png', limit: '1mb' }), async (request, response) => {
    const project = idFrom(request.params.id, 'project')
    await projects.exists(project)
    const body: unknown = request.body
    if (!Buffer.isBuffer(body) || body.subarray(0, 8).toString('hex') !== '89504e470d0a1a0a')
      throw new HttpRefusal(422, say`A thumbnail is a PNG picture.`)
    await writeFile(files.thumbnailOf(project), body)
    response.status(204).end()
  })
  routes.get('/:id/thumbnail', (request, response) => {
    const project = idFrom(request.params.id, 'project')
    response.sendFile(`${project}.png`, { root: files.thumbnails, cacheControl: false }, (error) => {
      // None yet is no error: the shelf shows its own sign then.
      if (error && !response.headersSent) response.status(204).end()
    })
  })
  return routes
}
