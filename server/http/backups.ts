import express, { Router } from 'express'
import { say } from '#core/say.ts'
import type { Backups } from '../storage/backups.ts'
import { HttpRefusal } from './refusal.ts'

/** The copies of the shelf, and how to go back to them. */
export function backupRoutes(backups: Backups): Router {
  const routes = Router()
  const json = express.json({ limit: '1kb' })

  routes.get('/', async (_request, response) => {
    response.json({ backups: backups.list(), room: await backups.room() })
  })
  routes.post('/', async (_request, response) => {
    response.status(201).json({ made: await backups.makeIfChanged() })
  })
  routes.put('/room', json, async (request, response) => {
    const bytes: unknown = (request.body as { bytes?: unknown } | undefined)?.bytes
    if (typeof bytes !== 'number' || !Number.isInteger(bytes) || bytes < 0)
      throw new HttpRefusal(422, say`The room for backups is a number of bytes, 0 or more.`)
    await backups.setRoom(bytes)
    response.status(204).end()
  })
  routes.get('/:name', async (request, response) => {
    response.json(await backups.contents(request.params.name))
  })
  routes.post('/:name/back', json, async (request, response) => {
    const project: unknown = (request.body as { project?: unknown } | undefined)?.project
    const ids = await backups.bringBack(request.params.name, typeof project === 'string' ? project : null)
    response.status(201).json({ ids })
  })
  return routes
}
