import { execFile } from 'node:child_process'
import { promisify } from 'node:util'

/** The programs that convert, found on the path unless FFMPEG names another place. */
export interface Converter {
  ffmpeg: string
  ffprobe: string
}

/** Null where there is none that runs. */
export async function findConverter(ffmpeg = process.env.FFMPEG ?? 'ffmpeg'): Promise<Converter | null> {
  const ffprobe = ffmpeg.replace(/ffmpeg([^/\\]*)$/, 'ffprobe$1')
  const runs = (program: string) => promisify(execFile)(program, ['-hide_banner', '-version'], { timeout: 10_000 })
  try {
    await Promise.all([runs(ffmpeg), runs(ffprobe)])
    return { ffmpeg, ffprobe }
  } catch {
    return null
  }
}

/** Kilobytes of address space that a program may take: what a file makes it ask for beyond that it does not get. */
const mostMemory = 6 * 1024 ** 2

/**
 * A command that runs a program within bounds: of memory where the system has a shell that sets them. Files are reached by
 * the protocol of files alone, see {@link localFile}.
 */
export function bounded(program: string, args: readonly string[]): [string, string[]] {
  if (process.platform === 'win32') return [program, [...args]]
  return ['/bin/sh', ['-c', `ulimit -v ${mostMemory}; exec "$0" "$@"`, program, ...args]]
}

/** A file as an input that can reach no other: no address of the network, no list of other files. */
export const localFile = (path: string): string[] => ['-protocol_whitelist', 'file,pipe', '-i', `file:${path}`]
