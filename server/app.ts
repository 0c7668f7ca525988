import { mkdir } from 'node:fs/promises'
import { join } from 'node:path'
import compression from 'compression'
import express, { type ErrorRequestHandler, type Express } from 'express'
import { type Logger, pino } from 'pino'
import { pinoHttp } from 'pino-http'
import { detectorRoutes } from './http/detectors.ts'
import { footageRoutes } from './http/footage.ts'
import { outputRoutes } from './http/outputs.ts'
import { projectRoutes } from './http/projects.ts'
import { asRefusal, HttpRefusal } from './http/refusal.ts'
import { detectorHeaders, headers, onlyOwnHost } from './http/safety.ts'
import { Files, type OpenFile } from './media/files.ts'
import { type Database, openDatabase } from './storage/database.ts'
import { Projects } from './storage/projects.ts'

export interface ServerOptions {
  /** Folder of the database, footage and outputs; made when missing. */
  data: string
  /** Folder of the built interface; none for the API alone. */
  web?: string
  openFile?: OpenFile
  log?: Logger
}
export interface Server {
  app: Express
  database: Database
  projects: Projects
  files: Files
  close(): Promise<void>
}

export async function createServer({
  data,
  web,
  openFile,
  log = pino({ level: 'warn' }),
}: ServerOptions): Promise<Server> {
  await mkdir(data, { recursive: true })
  const database = await openDatabase(join(data, 'wisp-trail.sqlite'))
  const files = new Files(data, openFile)
  await files.prepare()
  const projects = new Projects(database)
  await projects.sweep()

  const app = express()
  app.disable('x-powered-by')
  app.use(pinoHttp({ logger: log, useLevel: 'debug' }))
  app.use(headers, onlyOwnHost)
  // An event stream must leave line by line; compression would hold it back.
  app.use(
    compression({
      filter: (request, response) => !request.path.endsWith('/live') && compression.filter(request, response),
    }),
  )
  app.use('/api/projects', projectRoutes(projects, files))
  app.use('/api/projects/:id/outputs', outputRoutes(database, projects, files))
  app.use('/api/footage', footageRoutes(database, files))
  app.use('/api/detectors', detectorRoutes())
  app.use('/api', () => {
    throw new HttpRefusal(404, 'The server knows nothing under this address.')
  })
  if (web) {
    app.use(detectorHeaders)
    app.use(express.static(web, { index: false, maxAge: '1h' }))
    app.get('/{*path}', (_request, response) => {
      response.sendFile('index.html', { root: web, cacheControl: false })
    })
  }
  const onError: ErrorRequestHandler = (error: unknown, request, response, _next) => {
    const refusal = asRefusal(error)
    if (!refusal) request.log.error({ error }, 'unexpected')
    // A request that was cut off has nobody to answer.
    if (response.headersSent || (request.destroyed && !request.complete)) return void response.destroy()
    response.status(refusal?.status ?? 500).json({
      error:
        refusal?.message ??
        'Something went wrong in the server; nothing was changed. Try again, and look at its log if it stays.',
    })
  }
  app.use(onError)
  return { app, database, projects, files, close: () => database.close() }
}
