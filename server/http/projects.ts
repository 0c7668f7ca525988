import { writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import express, { Router } from 'express'
import type { StoredChange } from '#core/records/exchange.ts'
import { isKeepable } from '#core/records/keepable.ts'
import type { Files } from '../media/files.ts'
import type { Projects } from '../storage/projects.ts'
import { LiveLines } from './live.ts'
import { HttpRefusal } from './refusal.ts'

const idPattern = /^[A-Za-z0-9_-]{1,80}$/

/** An id from the address, or a refusal: only what passes here may become part of a file name. */
export function idFrom(value: unknown, what: string): string {
  if (typeof value !== 'string' || !idPattern.test(value)) throw new HttpRefusal(404, `There is no such ${what}.`)
  return value
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
  routes.get('/:id', async (request, response) => {
    response.json(await projects.open(idFrom(request.params.id, 'project')))
  })
  routes.post('/:id/duplicate', async (request, response) => {
    response.status(201).json({ id: await projects.duplicate(idFrom(request.params.id, 'project')) })
  })
  routes.delete('/:id', async (request, response) => {
    await projects.setDeleted(idFrom(request.params.id, 'project'), true)
    response.status(204).end()
  })
  routes.post('/:id/restore', async (request, response) => {
    await projects.setDeleted(idFrom(request.params.id, 'project'), false)
    response.status(204).end()
  })

  routes.post('/:id/changes', json, async (request, response) => {
    const project = idFrom(request.params.id, 'project')
    const body = (request.body ?? {}) as Record<string, unknown>
    if (typeof body.id !== 'string' || !idPattern.test(body.id))
      throw new HttpRefusal(422, 'A change needs an id of its own.')
    if (typeof body.base !== 'number' || !Number.isInteger(body.base) || body.base < 0)
      throw new HttpRefusal(422, 'A change needs the revision it is based on.')
    if (typeof body.label !== 'string' || !isKeepable(body.label))
      throw new HttpRefusal(422, 'A change needs a label in plain words.')
    const label = body.label.slice(0, 200)
    const change = { id: body.id, base: body.base, label, diff: body.diff }
    const answer = await projects.commit(project, change)
    response.status(answer.accepted ? 200 : 409).json(answer)
    if (answer.accepted && !answer.repeated)
      live.tell(project, { id: change.id, revision: answer.revision, label, diff: change.diff as StoredChange['diff'] })
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
      throw new HttpRefusal(422, 'A thumbnail is a PNG picture.')
    await writeFile(join(files.thumbnails, `${project}.png`), body)
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
