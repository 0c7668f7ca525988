import express, { type Express } from 'express'
import { pino } from 'pino'
import { pinoHttp } from 'pino-http'
import { onError, type ServerOptions } from './app.ts'
import { HttpRefusal } from './http/refusal.ts'
import { headers, onlyOwnPages } from './http/safety.ts'
import type { StartTrouble } from './storage/startTrouble.ts'

/**
 * Serves the interface while the data folder can not be opened: every question is answered with why, and with the ways on.
 * Choosing one of them tries again.
 */
export function troubleApp(
  trouble: StartTrouble,
  choose: (id: string) => Promise<void>,
  { web, alsoFrom, log = pino({ level: 'warn' }) }: Pick<ServerOptions, 'web' | 'alsoFrom' | 'log'>,
): Express {
  const app = express()
  app.disable('x-powered-by')
  app.use(pinoHttp({ logger: log, useLevel: 'debug' }))
  app.use(headers, onlyOwnPages(alsoFrom))
  app.post('/api/start', express.json({ limit: '1kb' }), async (request, response) => {
    const id: unknown = (request.body as { id?: unknown } | undefined)?.id
    if (!trouble.choices.some((one) => one.id === id)) throw new HttpRefusal(422, 'That is none of the ways on.')
    await choose(id as string)
    response.status(204).end()
  })
  app.use('/api', (_request, response) => {
    response.status(503).json({ error: trouble.message, choices: trouble.choices })
  })
  if (web) {
    app.use(express.static(web, { index: false }))
    app.get('/{*path}', (_request, response) => {
      response.sendFile('index.html', { root: web, cacheControl: false })
    })
  }
  app.use(onError)
  return app
}
