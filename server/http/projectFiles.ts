import { existsSync } from 'node:fs'
import { readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { pipeline } from 'node:stream/promises'
import { Router } from 'express'
import { fileName } from '#core/formats/fileName.ts'
import type { ClipHere } from '#core/records/exchange.ts'
import { type BroughtIn, projectFileEnding } from '#core/records/projectFile.ts'
import type { AnyRecord, Media } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { type Files, isWhole } from '../media/files.ts'
import type { Database } from '../storage/database.ts'
import { type OpenProjectFile, openProjectFile, packProject } from '../storage/projectFile.ts'
import type { Projects } from '../storage/projects.ts'
import { takeFootage } from './footage.ts'
import { idFrom } from './projects.ts'
import { asRefusal, gone, HttpRefusal } from './refusal.ts'

/** Projects as files: out of the shelf, and onto it. `example`: path of the one that everybody begins with; null where there is none. */
export function projectFileRoutes(
  database: Database,
  projects: Projects,
  files: Files,
  example: string | null,
): Router {
  const routes = Router()
  const pathOf = (hash: string) => join(files.footage, hash)
  const isHere = ({ hash, bytes }: Media) => isWhole(pathOf(hash), bytes)

  /** Every content once, with whether it is on this machine. */
  async function clipsOf(records: readonly AnyRecord[]): Promise<ClipHere[]> {
    const media = new Map(records.flatMap((one) => (one.type === 'media' ? [[one.hash, one] as const] : [])))
    return Promise.all(
      [...media.values()].map(async (one) => ({
        ...{ name: one.name, hash: one.hash, bytes: one.bytes, here: await isHere(one) },
      })),
    )
  }

  routes.get('/:id/clips', async (request, response) => {
    const { records } = await projects.open(idFrom(request.params.id, 'project'))
    response.json({ clips: await clipsOf(records) })
  })

  // A clip that is missing here does not keep the rest from leaving: what is inside is said by the file.
  routes.get('/:id/file', async (request, response) => {
    const id = idFrom(request.params.id, 'project')
    const { records } = await projects.open(id)
    const name = records.find((one) => one.type === 'project')!.name
    const clips = request.query.clips === 'no' ? [] : (await clipsOf(records)).filter((one) => one.here)
    const hashes = clips.map(({ hash }) => hash)
    const thumbnail = await readFile(files.thumbnailOf(id)).catch(() => null)
    const stream = await projects.streamWhole(id, hashes)
    response.type('application/zip').attachment(`${fileName(name, 'Project')}.${projectFileEnding}`)
    const packed = packProject(
      stream,
      hashes.map((hash) => ({ hash, path: pathOf(hash) })),
      thumbnail,
      // The browser says that the download failed; half a file would look whole.
      (error) => packed.destroy(error),
    )
    try {
      await pipeline(packed, response)
    } finally {
      stream.close()
    }
  })

  routes.post('/file', async (request, response) => {
    await files.askForRoom(Number(request.headers['content-length'] ?? 0))
    const stop = gone(response)
    response.status(201).json(await files.receive(request, Infinity, ({ file }) => bringIn(file, stop)))
  })

  routes.post('/example', async (_request, response) => {
    if (!example || !existsSync(example))
      throw new HttpRefusal(404, say`This build has no example: run npm run build, and start the server again.`)
    response.status(201).json(await bringIn(example, gone(response)))
  })

  async function bringIn(file: string, stop: AbortSignal): Promise<BroughtIn> {
    const opened = await openProjectFile(file)
    try {
      return await bringInOpened(opened, stop)
    } finally {
      opened.close()
    }
  }

  async function bringInOpened(opened: OpenProjectFile, stop: AbortSignal): Promise<BroughtIn> {
    const missing = new Map<string, string>()
    const { id, copied } = await projects.bringIn(opened.records, async () => {
      const media = opened.records.flatMap((one) => (one.type === 'media' ? [one] : []))
      for (const one of media) if (!(await clipIn(opened, one, stop))) missing.set(one.hash, one.name)
    })
    const { thumbnail } = opened
    if (thumbnail?.subarray(0, 8).toString('hex') === '89504e470d0a1a0a')
      await writeFile(files.thumbnailOf(id), thumbnail)
    const { name } = opened.records.find((one) => one.type === 'project')!
    return { id, name, copied, missing: [...missing.values()] }
  }

  /** Brings a clip of the file in, where it is not here; returns whether it is here then. */
  async function clipIn(opened: OpenProjectFile, media: Media, stop: AbortSignal): Promise<boolean> {
    stop.throwIfAborted()
    if (await isHere(media)) return true
    const bytes = opened.clips.get(media.hash)
    if (bytes === undefined) return false
    await files.askForRoom(bytes, say`The clip ${media.name} takes`)
    const stream = await opened.clip(media.hash)
    try {
      return (await takeFootage(stream, database, files, stop)).hash === media.hash
    } catch (error) {
      stop.throwIfAborted()
      // A clip that is damaged in the file does not take the tracing with it; a disk that is full does.
      if (asRefusal(error)?.status === 507) throw error
      return false
    } finally {
      stream.destroy()
    }
  }

  return routes
}
