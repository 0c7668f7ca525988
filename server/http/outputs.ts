import { randomUUID } from 'node:crypto'
import { rm } from 'node:fs/promises'
import { join } from 'node:path'
import { Router } from 'express'
import { fileName } from '#core/formats/fileName.ts'
import { say } from '#core/say.ts'
import type { Files } from '../media/files.ts'
import type { Database } from '../storage/database.ts'
import type { OutputRow } from '../storage/entities.ts'
import type { Projects } from '../storage/projects.ts'
import { idFrom } from './projects.ts'
import { HttpRefusal, notFound } from './refusal.ts'

const mostBytes = 8 * 1024 ** 3
const endings = {
  mp4: 'video/mp4',
  webm: 'video/webm',
  png: 'image/png',
  svg: 'image/svg+xml',
  mov: 'video/quicktime',
  json: 'application/json',
  jpg: 'image/jpeg',
  webp: 'image/webp',
  exr: 'image/x-exr',
  csv: 'text/csv',
  edl: 'text/plain',
  otio: 'application/json',
  zip: 'application/zip',
  wav: 'audio/wav',
} as const
const endingOf = (name: string) => name.slice(name.lastIndexOf('.') + 1) as keyof typeof endings

/** The row of a file that was just made. */
export const outputRow = (
  project: string,
  { shot, name, about, bytes }: Pick<OutputRow, 'shot' | 'name' | 'about' | 'bytes'>,
): OutputRow => ({
  ...{ id: randomUUID(), project, shot, name, bytes, about: about.slice(0, 300) },
  made: new Date().toISOString(),
})
export const fileOfOutput = (files: Files, { id }: Pick<OutputRow, 'id'>): string => join(files.outputs, id)

/** What was rendered and is kept here. */
export function outputRoutes(database: Database, projects: Projects, files: Files): Router {
  const routes = Router({ mergeParams: true })
  const find = async (project: string, id: string): Promise<OutputRow> => {
    const row = await database.read((manager) => manager.findOneBy<OutputRow>('output', { id, project }))
    if (!row) throw new HttpRefusal(404, say`This file is not on the server any more.`)
    return row
  }
  routes.get('/', async (request, response) => {
    const project = idFrom((request.params as { id?: string }).id, 'project')
    response.json(
      await database.read((manager) =>
        manager.find<OutputRow>('output', { where: { project }, order: { made: 'DESC' } }),
      ),
    )
  })
  routes.post('/', async (request, response) => {
    const project = idFrom((request.params as { id?: string }).id, 'project')
    const shot = idFrom(request.query.shot, 'shot')
    const name = fileName(String(request.query.name ?? ''), '')
    if (!Object.hasOwn(endings, endingOf(name)))
      throw new HttpRefusal(422, say`A rendered file ends in one of ${Object.keys(endings).join(', ')}.`)
    await projects.exists(project)
    await files.askForRoom(Number(request.headers['content-length'] ?? 0))
    const row = await files.receive(request, mostBytes, async ({ bytes, put }) => {
      const made = outputRow(project, { shot, name, bytes, about: String(request.query.about ?? '') })
      if (bytes === 0) throw new HttpRefusal(422, say`The rendered file is empty. Render it again.`)
      await put(fileOfOutput(files, made), () => database.write((manager) => manager.insert('output', { ...made })))
      return made
    })
    response.status(201).json(row)
  })
  routes.get('/:output/file', async (request, response, next) => {
    const params = request.params as { id?: string; output?: string }
    const row = await find(idFrom(params.id, 'project'), idFrom(params.output, 'file'))
    response.type(endings[endingOf(row.name)])
    response.attachment(row.name)
    response.sendFile(row.id, { root: files.outputs }, (error) => {
      if (error && !response.headersSent)
        next(notFound(error) ? new HttpRefusal(404, say`This file is not on the server any more.`) : error)
    })
  })
  routes.delete('/:output', async (request, response) => {
    const params = request.params as { id?: string; output?: string }
    const row = await find(idFrom(params.id, 'project'), idFrom(params.output, 'file'))
    // The row first: what is left of a stop in between is a file that nobody asks for, and that is freed.
    await database.write((manager) => manager.delete('output', { id: row.id }))
    await rm(fileOfOutput(files, row), { force: true })
    response.status(204).end()
  })
  return routes
}
