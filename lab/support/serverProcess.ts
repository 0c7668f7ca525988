import { type ChildProcess, spawn, spawnSync } from 'node:child_process'
import { root } from './places.ts'

/** Lets no file of a process grow beyond so many bytes, as if the disk were full; null for as large as they like. */
export function limitFiles(child: ChildProcess, bytes: number | null): void {
  const { status, stderr } = spawnSync('prlimit', ['--pid', String(child.pid), `--fsize=${bytes ?? 'unlimited'}:`])
  if (status !== 0) throw new Error(`The files of the process could not be limited: ${String(stderr)}`)
}

/** The server from its source, as a process of its own: to be killed, and to be taken the room on its disk. */
export class ServerProcess {
  address = ''
  /** All that it said on the terminal. */
  said = ''
  readonly ended: Promise<number | null>
  private readonly child: ChildProcess

  private constructor(data: string, port: number) {
    this.child = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
      cwd: root,
      env: { ...process.env, WISP_DATA: data, WISP_PORT: String(port) },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    this.ended = new Promise((done) => this.child.once('exit', done))
    for (const stream of [this.child.stdout!, this.child.stderr!])
      stream.on('data', (chunk: Buffer) => void (this.said += String(chunk)))
  }

  /** Resolves when it listens, or has ended. */
  static async start(data: string, port = 0): Promise<ServerProcess> {
    const server = new ServerProcess(data, port)
    const listens = new Promise<void>((done) =>
      server.child.stdout!.on('data', () => {
        const [address] = /http:\/\/127\.0\.0\.1:\d+/.exec(server.said) ?? []
        if (address) done(void (server.address = address))
      }),
    )
    await Promise.race([listens, server.ended])
    return server
  }

  async api(method: string, path: string, body?: unknown): Promise<{ status: number; body: Record<string, unknown> }> {
    const response = await fetch(this.address + path, {
      method,
      headers: { 'Content-Type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    })
    const text = await response.text()
    return { status: response.status, body: (text ? JSON.parse(text) : {}) as Record<string, unknown> }
  }

  limitFiles(bytes: number | null): void {
    limitFiles(this.child, bytes)
  }

  kill(signal: NodeJS.Signals): void {
    this.child.kill(signal)
  }

  async stop(signal: NodeJS.Signals): Promise<void> {
    this.kill(signal)
    await this.ended
  }
}
