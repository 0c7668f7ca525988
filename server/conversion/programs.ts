import { execFile } from 'node:child_process'
import { promisify } from 'node:util'
import { scriptOf } from '../jobs/script.ts'

/** The programs that convert, each with the arguments that come before all others. */
export interface Converter {
  ffmpeg: readonly [string, ...string[]]
  ffprobe: readonly [string, ...string[]]
  /** Whether they came with Wisp Trail: several times slower than those of the machine, see docs/formats.md. */
  packaged: boolean
}

/** The programs on the path, unless FFMPEG names another place; else those that come with Wisp Trail. Null where neither runs. */
export async function findConverter(ffmpeg = process.env.FFMPEG ?? 'ffmpeg'): Promise<Converter | null> {
  const ffprobe = ffmpeg.replace(/ffmpeg([^/\\]*)$/, 'ffprobe$1')
  const own = { ffmpeg: [ffmpeg], ffprobe: [ffprobe], packaged: false } satisfies Converter
  return (await runs(own)) ? own : packagedConverter()
}

/** Those that come with Wisp Trail. */
export async function packagedConverter(): Promise<Converter | null> {
  const { file, options } = scriptOf('conversion/converter.program')
  const program = (name: string) => [process.execPath, ...options, file, name] as const
  const own = { ffmpeg: program('ffmpeg'), ffprobe: program('ffprobe'), packaged: true } satisfies Converter
  return (await runs(own)) ? own : null
}

async function runs({ ffmpeg, ffprobe }: Converter): Promise<boolean> {
  const asked = [ffmpeg, ffprobe].map(([program, ...first]) =>
    promisify(execFile)(program, [...first, '-hide_banner', '-version'], { timeout: 20_000 }),
  )
  return Promise.all(asked).then(
    () => true,
    () => false,
  )
}

/** Kilobytes of address space that a program may take: what a file makes it ask for beyond that it does not get. */
const mostMemory = 6 * 1024 ** 2

/**
 * A command that runs a program within bounds: of memory where the system has a shell that sets them; the packaged one is bounded
 * by its WebAssembly. `gently`: everything else on the machine goes first, where the system has such a shell. Files are reached by the protocol of files alone, see {@link localFile}.
 */
export function bounded(
  { packaged, ...programs }: Converter,
  name: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  gently = false,
): [string, string[]] {
  const [program, ...first] = programs[name]
  if (packaged || process.platform === 'win32') return [program, [...first, ...args]]
  return [
    '/bin/sh',
    ['-c', `ulimit -v ${mostMemory}; exec ${gently ? 'nice -n 15 ' : ''}"$0" "$@"`, program, ...first, ...args],
  ]
}

/** A file as an input that can reach no other: no address of the network, no list of other files. */
export const localFile = (path: string): string[] => ['-protocol_whitelist', 'file,pipe', '-i', `file:${path}`]
