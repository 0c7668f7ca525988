import { Router } from 'express'
import { say } from '#core/say.ts'
import type { Files } from '../media/files.ts'
import type { Room } from '../storage/room.ts'
import { HttpRefusal } from './refusal.ts'

/** How much room there is, what takes it, and the way to free what nobody needs. */
export function roomRoutes(room: Room, files: Files): Router {
  const routes = Router()
  routes.get('/', async (_request, response) => {
    response.json(await room.taken())
  })
  routes.post('/free', async (_request, response) => {
    response.json({ bytes: await room.free() })
  })
  // Asked before something large is sent: an answer in its middle may come too late for the one who waits for it.
  routes.get('/for/:bytes', async (request, response) => {
    const bytes = Number(request.params.bytes)
    if (!Number.isSafeInteger(bytes) || bytes < 0)
      throw new HttpRefusal(422, say`A size is a number of bytes, 0 or more.`)
    await files.askForRoom(bytes)
    response.status(204).end()
  })
  return routes
}
