// The converter that comes with Wisp Trail, as a program: `ffmpeg ARGUMENTS` or `ffprobe ARGUMENTS`, as the programs of these
// names take them. It is FFmpeg compiled to WebAssembly: whatever a file makes it do, it reaches nothing but the folder
// it was started in and the one that the file lies in.
import { readFileSync, writeSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { hostFolder, type VirtualDisk } from './hostFolder.ts'

interface Core {
  FS: VirtualDisk
  setLogger(told: (line: { type: 'stdout' | 'stderr'; message: string }) => void): void
  exec(...args: string[]): number
  ffprobe(...args: string[]): number
}

const require = createRequire(import.meta.url)
// The package believes that it runs in a worker of a browser.
Object.assign(globalThis, { self: globalThis, location: { href: import.meta.url } })
const start = require('@ffmpeg/core') as (given: { wasmBinary: Buffer }) => Promise<Core>
const core = await start({ wasmBinary: readFileSync(require.resolve('@ffmpeg/core/wasm')) })
core.setLogger(({ type, message }) => {
  // So it says that it has come to its end.
  if (message !== 'Aborted()') writeSync(type === 'stdout' ? 1 : 2, `${message}\n`)
})
const [program, ...args] = process.argv.slice(2)
const here = process.cwd()
const files = args.filter((arg) => arg.startsWith('file:')).map((arg) => dirname(arg.slice('file:'.length)))
for (const folder of new Set([here, ...files])) {
  core.FS.mkdirTree(folder)
  core.FS.mount(hostFolder(core.FS, folder), {}, folder)
}
core.FS.chdir(here)
// Compiled, ffprobe does not tell how it ended: who asked sees that it has said nothing.
if (program === 'ffprobe') core.ffprobe(...args)
else process.exitCode = core.exec(...args)
