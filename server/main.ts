import { existsSync } from 'node:fs'
import { createServer as createHttpServer, type RequestListener, type Server as HttpServer } from 'node:http'
import { join, resolve } from 'node:path'
import { createServer, type Server, type ServerOptions } from './app.ts'
import { StartTrouble } from './storage/startTrouble.ts'
import { troubleApp } from './troubleApp.ts'

export interface Running {
  address: string
  /** Why it serves nothing but this sentence and the ways on; null while all is well. */
  trouble(): string | null
  stop(): Promise<void>
}

/**
 * Starts the server on this machine only. Where the data folder can not be opened it serves a page that says why, until
 * somebody has chosen a way on. Throws a {@link StartTrouble} where it can not even do that.
 */
export async function start(options: Omit<ServerOptions, 'chosen'> & { port: number }): Promise<Running> {
  let handle: RequestListener = (_request, response) => void response.writeHead(503).end()
  let server: Server | null = null
  let trouble: StartTrouble | null = null
  const http = createHttpServer((request, response) => handle(request, response))
  // The port first: a taken one is said before the folder is touched.
  await listen(http, options.port)
  const { port } = http.address() as { port: number }
  const address = `http://127.0.0.1:${port}`

  const open = async (chosen?: string): Promise<void> => {
    try {
      server = await createServer({ ...options, ...(chosen ? { chosen } : {}) })
      server.listens(address)
      handle = server.app
      trouble = null
    } catch (error) {
      trouble = asTrouble(error)
      handle = troubleApp(trouble, open, options)
    }
  }
  await open()
  const stop = async () => {
    http.closeAllConnections()
    await new Promise((done) => http.close(done))
    await server?.close()
  }
  // Another one serves this folder: a page of ours would only hide it.
  const now = trouble as StartTrouble | null
  if (now?.isRunning) {
    await stop()
    throw now
  }
  return { address, trouble: () => trouble?.message ?? null, stop }
}

function listen(http: HttpServer, port: number): Promise<void> {
  return new Promise((done, fail) => {
    http.once('error', (error: NodeJS.ErrnoException) =>
      fail(
        error.code === 'EADDRINUSE'
          ? new StartTrouble(
              `Port ${port} is in use by another program. Stop that one, or choose another port: WISP_PORT=${port + 1}.`,
            )
          : error,
      ),
    )
    http.listen(port, '127.0.0.1', done)
  })
}

/** Anything that stands in the way of the start, as a sentence. */
function asTrouble(error: unknown): StartTrouble {
  if (error instanceof StartTrouble) return error
  return new StartTrouble(
    `The projects could not be opened (${(error as Error).message}); nothing was lost. Free some space if the disk is full, and try again.`,
    [{ id: '', label: 'Try again' }],
  )
}

if (process.argv[1] && resolve(process.argv[1]) === resolve(import.meta.filename)) {
  const web = resolve('dist/web')
  try {
    const running = await start({
      data: process.env.WISP_DATA ?? resolve('data'),
      ...(existsSync(join(web, 'index.html')) ? { web } : {}),
      example: resolve('dist/example.wisptrail'),
      ...(process.env.WISP_ALSO_FROM ? { alsoFrom: Number(process.env.WISP_ALSO_FROM) } : {}),
      port: Number(process.env.WISP_PORT ?? 4310),
    })
    const trouble = running.trouble()
    if (trouble) console.error(trouble)
    console.log(trouble ? `The ways on are at ${running.address}` : `Wisp Trail listens on ${running.address}`)
    const stop = () =>
      running.stop().then(
        () => process.exit(0),
        (error: unknown) => {
          console.error(error)
          process.exit(1)
        },
      )
    process.on('SIGINT', stop)
    process.on('SIGTERM', stop)
  } catch (error) {
    if (!(error instanceof StartTrouble)) throw error
    console.error(error.message)
    process.exit(1)
  }
}
