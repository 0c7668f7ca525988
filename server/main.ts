import { existsSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { createServer } from './app.ts'

/** Starts the server on this machine only. Resolves with its address and a way to stop it. */
export async function start(options: {
  data: string
  web?: string
  port: number
}): Promise<{ address: string; stop(): Promise<void> }> {
  const server = await createServer(options)
  const listener = await new Promise<import('node:http').Server>((done, fail) => {
    const http = server.app.listen(options.port, '127.0.0.1', (error?: Error) => (error ? fail(error) : done(http)))
  })
  const { port } = listener.address() as { port: number }
  return {
    address: `http://127.0.0.1:${port}`,
    async stop() {
      listener.closeAllConnections()
      await new Promise((done) => listener.close(done))
      await server.close()
    },
  }
}

if (process.argv[1] && resolve(process.argv[1]) === resolve(import.meta.filename)) {
  const web = resolve('dist/web')
  const running = await start({
    data: process.env.WISP_DATA ?? resolve('data'),
    ...(existsSync(join(web, 'index.html')) ? { web } : {}),
    port: Number(process.env.WISP_PORT ?? 4310),
  })
  console.log(`Wisp Trail listens on ${running.address}`)
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
}
