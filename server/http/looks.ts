import express, { Router } from 'express'
import { checks } from '#core/checks.ts'
import { limits } from '#core/records/limits.ts'
import type { KeptLook } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import type { Database } from '../storage/database.ts'
import type { OwnLookRow } from '../storage/entities.ts'
import { HttpRefusal } from './refusal.ts'

/** Looks that belong to whoever works here, in every project. */
export function lookRoutes(database: Database): Router {
  const routes = Router()

  routes.get('/', async (_request, response) => {
    const rows = await database.read((manager) => manager.find<OwnLookRow>('own_look', { order: { kept: 'ASC' } }))
    response.json(rows.map(({ kept: _kept, ...look }): KeptLook => ({ type: 'look', ...look })))
  })
  routes.put('/:id', express.json({ limit: '1mb' }), async (request, response) => {
    const look = { ...(request.body as object), type: 'look', id: request.params.id } as unknown
    checks.record(look)
    const { type: _type, ...row } = look as KeptLook
    await database.write(async (manager) => {
      const there = await manager.findOneBy<OwnLookRow>('own_look', { id: row.id })
      if (!there && (await manager.countBy('own_look', {})) >= limits.looks)
        throw new HttpRefusal(422, say`At most ${limits.looks} looks are kept. Delete some first.`)
      await manager.upsert('own_look', { ...row, kept: there?.kept ?? new Date().toISOString() }, ['id'])
    })
    response.status(204).end()
  })
  routes.delete('/:id', async (request, response) => {
    await database.write((manager) => manager.delete('own_look', { id: request.params.id }))
    response.status(204).end()
  })
  return routes
}
