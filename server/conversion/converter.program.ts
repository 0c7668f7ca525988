// The converter that comes with Wisp Trail, as a program: `ffmpeg ARGUMENTS` or `ffprobe ARGUMENTS`, as the programs of these
// names take them. It is FFmpeg compiled to WebAssembly: whatever a file makes it do, it reaches nothing but the folder
// it was started in and, to read, the one that the file lies in.
import { readFileSync, writeSync } from 'node:fs'
import { createRequire } from 'node:module'
import { basename, dirname, isAbsolute, relative } from 'node:path'
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
if (program === 'ffmpeg') mountAt('/here', here, true)
core.FS.chdir(program === 'ffmpeg' ? '/here' : '/')
const own = args.map((arg) => (arg.startsWith('file:') ? `file:${placeOf(arg.slice('file:'.length))}` : arg))
// Compiled, ffprobe does not tell how it ended: who asked sees that it has said nothing.
if (program === 'ffprobe') core.ffprobe(...own)
else process.exitCode = core.exec(...own)

/** Where the program finds a file of this machine. What does not lie in its own folder it can only read. */
function placeOf(file: string): string {
  const inside = relative(here, file)
  if (program === 'ffmpeg' && !inside.startsWith('..') && !isAbsolute(inside))
    return `/here/${inside.replaceAll('\\', '/')}`
  mountAt('/from', dirname(file), false)
  return `/from/${basename(file)}`
}

function mountAt(place: string, folder: string, writable: boolean): void {
  core.FS.mkdirTree(place)
  core.FS.mount(hostFolder(core.FS, folder, writable), {}, place)
}
