import { type ChildProcess, spawn, spawnSync } from 'node:child_process'
import { join } from 'node:path'
import { demoMedia, root } from './places.ts'
import { limitFiles } from './serverProcess.ts'

/** The built server as a process of its own, on a data folder of its own. */
export class App {
  address = ''
  readonly data: string
  private child: ChildProcess | null = null
  /** Nobody leaves a server behind, whatever ends them. */
  private readonly end = (): void => void this.child?.kill('SIGKILL')

  constructor(data: string) {
    this.data = data
  }

  async start(): Promise<void> {
    const port = this.address ? new URL(this.address).port : '0'
    const child = spawn(process.execPath, ['--enable-source-maps', 'dist/server/main.js'], {
      cwd: root,
      env: { ...process.env, WISP_DATA: this.data, WISP_PORT: port },
      stdio: ['ignore', 'pipe', 'inherit'],
    })
    this.child = child
    process.off('exit', this.end).once('exit', this.end)
    this.address = await new Promise<string>((done, fail) => {
      child.once('exit', (code) => fail(new Error(`The server ended with ${code} before it listened.`)))
      child.stdout!.on('data', (chunk: Buffer) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(chunk))
        if (found) done(found[0])
      })
    })
  }

  async stop(signal: NodeJS.Signals = 'SIGKILL'): Promise<void> {
    process.off('exit', this.end)
    const { child } = this
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const ended = new Promise((done) => child.once('exit', done))
    child.kill(signal)
    await ended
  }

  limitFiles(bytes: number | null): void {
    limitFiles(this.child!, bytes)
  }

  /** Puts The Reed Ferry into the (empty, stopped) data folder. */
  seed(): void {
    const code = `import(${JSON.stringify(`file://${join(root, 'dist/server/seed.js')}`)}).then((m) => m.seed(${JSON.stringify(this.data)}, ${JSON.stringify(demoMedia)}))`
    const { status, stderr } = spawnSync(process.execPath, ['-e', code], { cwd: root })
    if (status !== 0) throw new Error(String(stderr))
  }
}
