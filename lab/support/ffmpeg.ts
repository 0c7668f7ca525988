import { spawnSync } from 'node:child_process'

/** The programs, found on the path unless FFMPEG names another place. */
export const ffmpegProgram = process.env.FFMPEG ?? 'ffmpeg'
export const ffprobeProgram = ffmpegProgram.replace(/ffmpeg([^/\\]*)$/, 'ffprobe$1')

/** Runs ffmpeg, with `input` on its standard input; gives what it writes to its output. Throws an Error with its words. */
export function ffmpeg(args: readonly string[], input?: Uint8Array): Buffer {
  const { status, stdout, stderr, error } = spawnSync(ffmpegProgram, ['-y', '-loglevel', 'error', ...args], {
    ...(input ? { input } : {}),
    maxBuffer: 2 ** 30,
  })
  if (error) throw error
  if (status !== 0) throw new Error(`ffmpeg could not do it: ${String(stderr)}`)
  return stdout
}
