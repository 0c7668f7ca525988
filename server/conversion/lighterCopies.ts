import { mkdir, readdir, rename, rm, stat, statfs } from 'node:fs/promises'
import { join } from 'node:path'
import type { Logger } from 'pino'
import type { LighterState } from '#core/records/exchange.ts'
import { limits } from '#core/records/limits.ts'
import { runJob } from '../jobs/runJob.ts'
import type { Files } from '../media/files.ts'
import type { Facts } from '../media/mediaFacts.ts'
import { convert } from './convert.ts'
import type { Plan } from './plan.ts'
import { findConverter } from './programs.ts'

/** Seconds by which the time of a frame may be off in a copy: clocks of files are that coarse. */
const sameTime = 0.002

/**
 * Copies of large clips at half their size, with a frame that stands for itself every few: what is only looked at smaller is
 * decoded several times as quickly from them. Same frames at the same times, same codes but for what the coding loses. Made
 * where somebody asks for one, one after the other, while everything else on the machine goes first; a clip without one is
 * seen all the same.
 */
export class LighterCopies {
  private readonly files: Files
  private readonly log: Logger
  private readonly stop = new AbortController()
  /** Clips that get none. */
  private readonly without = new Set<string>()
  /** How much is made of those that are on their way. */
  private readonly shares = new Map<string, number>()
  private working: Promise<void> = Promise.resolve()

  constructor(files: Files, log: Logger) {
    this.files = files
    this.log = log
  }

  async close(): Promise<void> {
    this.stop.abort(new Error('The server stops.'))
    await this.working
  }

  /** Lets copies go whose clips are gone. */
  async start(): Promise<void> {
    const clips = new Set(await readdir(this.files.footage))
    for (const name of await readdir(this.files.lighter))
      if (!clips.has(name)) await rm(join(this.files.lighter, name), { force: true })
  }

  /** What is known of the copy of a clip; with `make` it is begun where it is not there. */
  async of(facts: Facts, make: boolean): Promise<LighterState> {
    const { hash } = facts
    if (await isThere(this.fileOf(hash))) return { state: 'there', share: 1 }
    const share = this.shares.get(hash)
    if (share !== undefined) return { state: 'making', share }
    if (!make || !halves(facts) || this.without.has(hash)) return { state: 'none', share: 0 }
    this.shares.set(hash, 0)
    this.working = this.working.then(() => this.work(facts))
    return { state: 'making', share: 0 }
  }

  fileOf(hash: string): string {
    return join(this.files.lighter, hash)
  }

  private async work(facts: Facts): Promise<void> {
    const { signal } = this.stop
    const { hash, seconds, bytes } = facts
    const folder = join(this.files.incoming, `lighter-${hash}`)
    try {
      signal.throwIfAborted()
      const converter = await findConverter()
      // The packaged one would take hours.
      if (!converter || converter.packaged) return void this.without.add(hash)
      await mkdir(folder, { recursive: true })
      const { bavail, bsize } = await statfs(folder)
      const most = Math.floor(Math.min(0.5 * bavail * bsize, 1e8 + 2 * bytes))
      const from = join(this.files.footage, hash)
      const progressed = (share: number) => void this.shares.set(hash, share)
      const made = await convert(
        converter,
        { from, folder, plan: planOfCopy, seconds, most, progressed, gently: true },
        signal,
      )
      const { size } = await stat(made)
      const copy = await runJob<Facts>('media/reading', { file: made, hash, bytes: size }, signal)
      if (hasSameFrames(copy, facts)) await rename(made, this.fileOf(hash))
      else throw new Error('Its frames are not those of the clip.')
    } catch (error) {
      if (signal.aborted) return
      // Nobody waits for it: the clip itself goes on being shown.
      this.log.warn({ error, hash }, 'a large clip gets no lighter copy')
      this.without.add(hash)
    } finally {
      this.shares.delete(hash)
      await rm(folder, { recursive: true, force: true })
    }
  }
}

/** Whether a clip is large, and its half is of whole pixels. */
const halves = ({ codec, width, height }: Facts): boolean =>
  ['avc', 'vp8', 'vp9', 'av1'].includes(codec) &&
  width * height > limits.usualFrame &&
  width % 4 === 0 &&
  height % 4 === 0

function hasSameFrames(copy: Facts, clip: Facts): boolean {
  const [half, whole] = [asCoded(copy), asCoded(clip)]
  const apart = copy.times[0]! - clip.times[0]!
  return (
    2 * half.width === whole.width &&
    2 * half.height === whole.height &&
    copy.times.length === clip.times.length &&
    copy.times.every((time, i) => Math.abs(time - clip.times[i]! - apart) < sameTime)
  )
}
/** Size of the frames before they are turned upright. */
const asCoded = ({ width, height, rotation }: Facts) =>
  rotation % 180 ? { width: height, height: width } : { width, height }

/** Codes are averaged as they are, whatever they stand for: what reads the clip knows that, and reads the copy alike. */
const planOfCopy: Plan = {
  reading: ['-noautorotate'],
  table: null,
  ending: 'mp4',
  args: [
    ...['-map', '0:v:0', '-an', '-dn', '-sn', '-map_metadata', '-1', '-map_chapters', '-1'],
    ...['-vf', 'setparams=range=tv,scale=iw/2:ih/2:flags=area:in_range=tv:out_range=tv,format=yuv420p'],
    ...['-fps_mode', 'passthrough', '-enc_time_base', '-1', '-g', '12'],
    ...['-c:v', 'libx264', '-preset', 'superfast', '-crf', '14', '-bf', '0', '-x264-params', 'scenecut=0'],
    ...['-video_track_timescale', '90000', '-movflags', '+faststart', '-f', 'mp4'],
  ],
}

const isThere = (file: string) =>
  stat(file).then(
    () => true,
    () => false,
  )
