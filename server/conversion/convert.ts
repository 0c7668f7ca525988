import { spawn } from 'node:child_process'
import { open } from 'node:fs/promises'
import { join } from 'node:path'
import { cubeOf } from '#core/pixels/colour/hdr.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import { type Plan, tableName } from './plan.ts'
import { picturePattern } from './sequence.ts'
import { bounded, type Converter, localFile } from './programs.ts'

export interface Conversion {
  from: string
  /** A folder of its own: nothing is written anywhere else. */
  folder: string
  plan: Plan
  /** Seconds that the clip lasts; 0 where that is not known. */
  seconds: number
  /** Bytes that the result may take. */
  most: number
  /** Seconds without any progress after which it is given up. */
  patience?: number
  /** Whether everything else on the machine goes first. */
  gently?: boolean
  /** Told of the share that is done, 0 to 1. */
  progressed(share: number): void
}

/** Seconds after which a conversion is given up in any case. */
const longest = 6 * 3600

/**
 * Converts a file and gives the path of the result. Throws a Refusal where that can not be done, and the signal's reason where
 * it was ended.
 */
export async function convert(converter: Converter, job: Conversion, signal: AbortSignal): Promise<string> {
  signal.throwIfAborted()
  const { from, folder, plan, seconds, most, patience = 120, gently = false } = job
  const made = join(folder, `converted.${plan.ending}`)
  const to = plan.ending === 'zip' ? join(folder, picturePattern(plan.picture!)) : made
  if (plan.table) await writeTable(join(folder, tableName), plan.table)
  const [program, args] = bounded(
    converter,
    'ffmpeg',
    [
      ...['-hide_banner', '-nostdin', '-loglevel', 'error', '-y', '-progress', 'pipe:1', '-stats_period', '0.3'],
      ...[...plan.reading, ...localFile(from), ...plan.args, '-fs', String(most), `file:${to}`],
    ],
    gently,
  )
  const child = spawn(program, args, { cwd: folder, stdio: ['ignore', 'pipe', 'pipe'] })
  const end = () => void child.kill('SIGKILL')
  signal.addEventListener('abort', end)
  const began = performance.now()
  let moved = began
  let late = false
  const watch = setInterval(() => {
    const now = performance.now()
    late = now - moved > 1000 * patience || now - began > 1000 * longest
    if (late) end()
  }, 500)
  let [done, full, words] = ['', false, '']
  child.stdout.setEncoding('utf8').on('data', (text: string) => {
    moved = performance.now()
    done = (done + text).slice(-2000)
    const at = Number([...done.matchAll(/out_time_us=(\d+)/g)].at(-1)?.[1] ?? 0) / 1e6
    const bytes = Number([...done.matchAll(/total_size=(\d+)/g)].at(-1)?.[1] ?? 0)
    full ||= bytes >= most
    if (seconds > 0) job.progressed(Math.min(0.99, at / seconds))
  })
  child.stderr.setEncoding('utf8').on('data', (text: string) => (words = (words + text).slice(-4000)))
  try {
    const code = await new Promise<number | null>((closed, fail) => {
      child.once('error', fail)
      child.once('close', closed)
      // What was ended is over, even where something that it started itself is not.
      child.once('exit', (code) => child.killed && closed(code))
    })
    signal.throwIfAborted()
    if (full)
      throw new HttpRefusal(
        507,
        say`The converted clip becomes larger than fits on the disk of the data folder, or than such a file should. Free some space, or convert a shorter piece.`,
      )
    if (code === 0) return made
    if (late)
      throw new HttpRefusal(
        422,
        say`The clip could not be converted: nothing came for ${patience} seconds, or it took more than ${longest / 3600} hours.`,
      )
    if (code === null)
      throw new HttpRefusal(
        500,
        say`The conversion was ended by the system. There may be too little memory; try again.`,
      )
    // What it says is in ffmpeg's own words: its end has one code for all of these.
    if (/No space left/i.test(words)) throw new HttpRefusal(507, say`The disk is full. Free some space and try again.`)
    if (/decoder .*not found|no decoder|unknown decoder|Function not implemented/i.test(words))
      throw new HttpRefusal(
        415,
        say`The picture is coded in a way that the converter here can not decode. Install ffmpeg where the Wisp Trail server runs, or export the clip as MP4 from the program that made it.`,
      )
    throw new HttpRefusal(422, say`The clip could not be converted: it is damaged. Copy it from the camera again.`)
  } finally {
    clearInterval(watch)
    signal.removeEventListener('abort', end)
    end()
  }
}

/** Tables that were made, by what they do: each takes a second. */
const tables = new Map<string, string[]>()

/** Piece by piece: as a whole it would keep every other request waiting. */
async function writeTable(file: string, { transfer, bright }: NonNullable<Plan['table']>): Promise<void> {
  const name = `${transfer} ${bright}`
  const known = tables.get(name)
  const pieces: string[] = []
  const handle = await open(file, 'w')
  try {
    for (const piece of known ?? cubeOf(transfer, bright)) {
      await handle.write(piece)
      pieces.push(piece)
    }
    tables.set(name, pieces)
  } finally {
    await handle.close()
  }
}
