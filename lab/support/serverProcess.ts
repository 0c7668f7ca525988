import { type ChildProcess, spawn, spawnSync } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { root } from './places.ts'

/** Lets no file of a process grow beyond so many bytes, as if the disk were full; null for as large as they like. */
export function limitFiles(child: ChildProcess, bytes: number | null): void {
  const { status, stderr } = spawnSync('prlimit', ['--pid', String(child.pid), `--fsize=${bytes ?? 'unlimited'}:`])
  if (status !== 0) throw new Error(`The files of the process could not be limited: ${String(stderr)}`)
}

/** The server as a process of its own, from its source or built: to be killed, and to be taken the room on its disk. */
export class ServerProcess {
  address = ''
  /** All that it said on the terminal. */
  said = ''
  readonly ended: Promise<number | null>
  private readonly child: ChildProcess

  /** See {@link start}; this one does not wait until it listens. */
  constructor(data: string, built: boolean) {
    const program = built ? ['--enable-source-maps', 'dist/server/main.js'] : ['--import', 'tsx', 'server/main.ts']
    this.child = spawn(process.execPath, program, {
      cwd: root,
      env: { ...process.env, WISP_DATA: data, WISP_PORT: '0' },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    this.ended = new Promise((done) => this.child.once('exit', done))
    for (const stream of [this.child.stdout!, this.child.stderr!])
      stream.on('data', (chunk: Buffer) => void (this.said += String(chunk)))
  }

  /** Resolves when it listens, or has ended. */
  static async start(data: string, built = false): Promise<ServerProcess> {
    const server = new ServerProcess(data, built)
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

  /** The most memory that it has held at once, in bytes (Linux). */
  peakMemory(): number {
    const [, kilobytes] = /VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${this.child.pid}/status`, 'utf8')) ?? []
    return Number(kilobytes) * 1024
  }

  kill(signal: NodeJS.Signals): void {
    this.child.kill(signal)
  }

  async stop(signal: NodeJS.Signals): Promise<void> {
    this.kill(signal)
    await this.ended
  }
}
