import { statSync } from 'node:fs'
import { join } from 'node:path'
import { ffmpeg } from '../support/ffmpeg.ts'
import { demoMedia } from '../support/places.ts'

/** Frames from one that stands for itself to the next. */
const lengths = [1, 6, 12, 24, 96]
/** A clip of 96 frames of 720p with film grain, as cameras have it. */
const clip = ['-i', join(demoMedia, 'jetty-swing.mp4'), '-an', '-vf', 'noise=alls=3:allf=t,format=yuv420p']

/**
 * What the length of a group costs: rows of a table with the size of a second, the time it takes to make one, and the time until the
 * last frame of a group is there where nothing of it is, which is what a step back over its beginning takes. One thread decodes.
 */
export function groupRows(folder: string): string[] {
  const source = join(folder, 'grain.mkv')
  ffmpeg([...clip, '-c:v', 'ffv1', source])
  return lengths.map((length) => {
    const file = join(folder, `group-${length}.mp4`)
    const x264 = ['-c:v', 'libx264', '-preset', 'veryfast', '-crf', '14', '-bf', '0', '-x264-params', 'scenecut=0']
    const making = timed(() => ffmpeg(['-i', source, ...x264, '-g', String(length), file]))
    const decode = (frames: number) =>
      Math.min(
        ...[0, 1, 2].map(() =>
          timed(() => ffmpeg(['-threads', '1', '-i', file, '-frames:v', String(frames), '-f', 'null', '-'])),
        ),
      )
    // The program itself takes as long as it takes for one frame.
    const back = length === 1 ? 0 : decode(length) - decode(1)
    const size = statSync(file).size / 1e6 / 4
    return `| ${length} | ${size.toFixed(2)} MB | ${(making / 4).toFixed(2)} s | ${Math.max(0, Math.round(1000 * back))} ms |`
  })
}

function timed(work: () => unknown): number {
  const start = performance.now()
  work()
  return (performance.now() - start) / 1000
}
