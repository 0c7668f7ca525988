import { createReadStream } from 'node:fs'
import { setTimeout as wait } from 'node:timers/promises'
import express, { type ErrorRequestHandler, type Express, type Request } from 'express'
import { type Logger, pino } from 'pino'
import { pinoHttp } from 'pino-http'
import { say } from '#core/say.ts'
import { Conversions } from './conversion/conversions.ts'
import { LighterCopies } from './conversion/lighterCopies.ts'
import { backupRoutes } from './http/backups.ts'
import { conversionRoutes } from './http/conversions.ts'
import { detectorRoutes } from './http/detectors.ts'
import { footageRoutes, takeFootage } from './http/footage.ts'
import { lookRoutes } from './http/looks.ts'
import { outputRoutes } from './http/outputs.ts'
import { projectFileRoutes } from './http/projectFiles.ts'
import { projectRoutes } from './http/projects.ts'
import { asRefusal, HttpRefusal } from './http/refusal.ts'
import { renderRoutes } from './http/renders.ts'
import { roomRoutes } from './http/room.ts'
import { detectorHeaders, headers, onlyOwnPages } from './http/safety.ts'
import { Files, type OpenFile } from './media/files.ts'
import { Backups } from './storage/backups.ts'
import type { Database } from './storage/database.ts'
import { dropRowsWithoutFiles, openData } from './storage/openData.ts'
import { Projects } from './storage/projects.ts'
import { Room } from './storage/room.ts'

export interface ServerOptions {
  /** Folder of the database, footage and outputs; made when missing. */
  data: string
  /** Folder of the built interface; none for the API alone. */
  web?: string
  /** The project file that everybody may begin with. */
  example?: string
  openFile?: OpenFile
  /** The way on that was chosen where the data folder could not be opened: see storage/startTrouble.ts. */
  chosen?: string
  /** The port of the development server. */
  alsoFrom?: number
  log?: Logger
}
export interface Server {
  app: Express
  database: Database
  projects: Projects
  files: Files
  backups: Backups
  /** Tells a second server on the same folder where this one answers. */
  listens(address: string): void
  close(): Promise<void>
}

export async function createServer({
  data,
  web,
  example,
  openFile,
  chosen,
  alsoFrom,
  log = pino({ level: 'warn' }),
}: ServerOptions): Promise<Server> {
  const { database, lock } = await openData(data, chosen)
  const files = new Files(data, openFile)
  const projects = new Projects(database)
  const backups = new Backups(database, projects, files)
  const takeIn = (file: string) => takeFootage(createReadStream(file), database, files)
  const conversions = new Conversions(database, files, takeIn, log)
  const lighter = new LighterCopies(files, log)
  try {
    await files.prepare()
    await dropRowsWithoutFiles(database, files)
    await projects.sweep()
    await conversions.start()
    await lighter.start()
  } catch (error) {
    await database.close().finally(() => lock.release())
    throw error
  }
  backups.start((error) => log.error({ error }, 'no backup was made'))

  const app = express()
  app.disable('x-powered-by')
  app.use(pinoHttp({ logger: log, useLevel: 'debug' }))
  app.use(headers, onlyOwnPages(alsoFrom))
  app.use('/api/projects', projectFileRoutes(database, projects, files, example ?? null))
  app.use('/api/projects', projectRoutes(projects, files))
  app.use('/api/projects/:id/renders', renderRoutes(database, projects, files))
  app.use('/api/projects/:id/outputs', outputRoutes(database, projects, files))
  app.use('/api/footage', footageRoutes(database, files, projects, conversions, lighter))
  app.use('/api/projects/:id/conversions', conversionRoutes(conversions))
  app.use('/api/backups', backupRoutes(backups))
  app.use('/api/looks', lookRoutes(database))
  app.use('/api/room', roomRoutes(new Room(database, files, backups), files))
  app.use('/api/detectors', detectorRoutes())
  app.use('/api', () => {
    throw new HttpRefusal(404, say`The server knows nothing under this address.`)
  })
  if (web) {
    app.use(detectorHeaders)
    app.use(express.static(web, { index: false, maxAge: '1h' }))
    app.get('/{*path}', (_request, response) => {
      response.sendFile('index.html', { root: web, cacheControl: false })
    })
  }
  app.use(onError)
  return {
    ...{ app, database, projects, files, backups },
    listens: (address) => lock.say(address),
    async close() {
      backups.stop()
      await Promise.all([conversions.close(), lighter.close()])
      await database.close().finally(() => lock.release())
    },
  }
}

/** Milliseconds for which the rest of a refused request is read, so that its sender gets to the answer. */
const patience = 30_000

/** Reads by the same means as whoever gave up in the middle: a stream does not flow while another one still listens. */
async function readOn(request: Request): Promise<void> {
  try {
    for await (const chunk of request.iterator({ destroyOnReturn: false })) void chunk
  } catch {
    // It was cut off.
  }
}

/** Whatever went wrong becomes an answer with a sentence. */
export const onError: ErrorRequestHandler = async (error: unknown, request, response, _next) => {
  const refusal = asRefusal(error)
  // A browser that is still sending does not read: it would only see that it was cut off.
  if (!request.complete && !request.destroyed) {
    await Promise.race([readOn(request), wait(patience, undefined, { ref: false })])
  }
  // A request that was cut off has nobody to answer.
  if (response.headersSent || response.destroyed || !request.socket.writable) return void response.destroy()
  if (!refusal) request.log.error({ error }, 'unexpected')
  // What was set for a file that did not come.
  for (const name of ['Content-Disposition', 'Cache-Control', 'ETag', 'Last-Modified']) response.removeHeader(name)
  response
    .status(refusal?.status ?? 500)
    .type('json')
    .json({
      error:
        refusal?.message ??
        say`Something went wrong in the server; nothing was changed. Try again, and look at its log if it stays.`,
    })
}
