import { json, Router } from 'express'
import type { Conversions } from '../conversion/conversions.ts'
import { idFrom } from './projects.ts'
import { gone } from './refusal.ts'

/** What is being converted for a project. */
export function conversionRoutes(conversions: Conversions): Router {
  const routes = Router({ mergeParams: true })
  const projectOf = (params: unknown) => idFrom((params as { id?: string }).id, 'project')
  routes.get('/', async (request, response) => {
    response.json(await conversions.of(projectOf(request.params)))
  })
  routes.put('/:conversion/choices', json({ limit: 1000 }), async (request, response) => {
    const { conversion } = request.params
    await conversions.choose(projectOf(request.params), idFrom(conversion, 'conversion'), request.body)
    response.status(204).end()
  })
  routes.get('/:conversion/preview/:bright', async (request, response) => {
    const { conversion, bright } = request.params
    const id = idFrom(conversion, 'conversion')
    const png = await conversions.preview(projectOf(request.params), id, bright, gone(response))
    response.set('Cache-Control', 'private, max-age=3600').type('image/png').send(png)
  })
  routes.post('/:conversion/taken', async (request, response) => {
    await conversions.take(projectOf(request.params), idFrom(request.params.conversion, 'conversion'))
    response.status(204).end()
  })
  routes.delete('/:conversion', async (request, response) => {
    await conversions.drop(projectOf(request.params), idFrom(request.params.conversion, 'conversion'))
    response.status(204).end()
  })
  return routes
}
