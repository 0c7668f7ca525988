import { spawn } from 'node:child_process'
import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { backgroundsIn, fetchSamples, type Half } from '../ground/backgrounds.ts'
import { type Case, casesOf } from '../ground/cases.ts'
import { root } from '../support/places.ts'
import type { Figure } from './follow.ts'
import { facesOver } from './groundFaces.ts'
import { type FrameError, type RodFigure, shownEnough } from './groundRod.ts'
import { boards, performersOver } from './groundShapes.ts'
import { type SurroundingsFigure, surroundingsOf } from './groundSurroundings.ts'
import type { PaintedFigure } from './painted.ts'
import { areaUnder, fitted } from './sureness.ts'

/** What is laid over what, and how much of it. */
export interface GroundOptions {
  /** Folder of filmed clips and photographs; sample footage is fetched where there is none. */
  over: string
  backgrounds: Half
  /** What is laid over them: rods in hands, printed boards, performers to be painted or taken out; or nothing, and their faces are followed. */
  props: Props
  /** Whether what comes nearer to the camera grows. */
  perspective: boolean
  clips: number
  seed: number
  /** Keys up to which each rod is corrected at its worst frame. */
  keys: number
  /** Only these, by number from 1; all where there is none. */
  only: readonly number[]
  /** Fits the confidence to what comes out, and prints its weights. */
  fit: boolean
}

export const allProps = ['rods', 'boards', 'performers', 'disguised', 'surroundings', 'faces'] as const
export type Props = (typeof allProps)[number]

/** What came of a case: a figure for every number of keys, and one for a key every second. */
export interface CaseFigures {
  of: Case
  figures: RodFigure[]
  everySecond: RodFigure
}

/** Follows what is drawn over filmed footage and prints how far off it was: by clip, and over all. */
export async function ground(
  options: GroundOptions,
): Promise<readonly (CaseFigures | Figure | PaintedFigure | SurroundingsFigure)[]> {
  const { over, backgrounds, props, perspective, clips, seed, keys, only, fit } = options
  if (!existsSync(over)) fetchSamples(over)
  if (props === 'faces') return await facesOver(backgroundsIn(over, backgrounds))
  const all = casesOf(backgroundsIn(over, backgrounds), clips, seed, perspective)
  const cases = only.length ? all.filter((_, i) => only.includes(i + 1)) : all
  if (props === 'boards') return await boards(cases)
  if (props === 'performers' || props === 'disguised') return await performersOver(cases, props === 'disguised')
  if (props === 'surroundings') return await surroundingsOf(cases)
  const results: CaseFigures[] = []
  const waiting = cases.map((of, i) => ({ of, i }))
  const work = async () => {
    for (let next = waiting.shift(); next; next = waiting.shift()) {
      const done = await inItsOwnProcess(next.of, keys)
      results[next.i] = done
      printCase(done)
    }
  }
  await Promise.all(Array.from({ length: availableParallelism() }, work))
  printAll(results)
  if (fit) fitted(results)
  return results
}

function inItsOwnProcess(of: Case, keys: number): Promise<CaseFigures> {
  const job = spawn(process.execPath, ['node_modules/tsx/dist/cli.mjs', 'lab/accuracy/groundJob.ts'], {
    ...{ cwd: root, stdio: ['pipe', 'pipe', 'inherit'] },
  })
  job.stdin!.end(JSON.stringify({ of, keys }))
  const said: Buffer[] = []
  job.stdout!.on('data', (part: Buffer) => said.push(part))
  return new Promise((done, fail) =>
    job.on('close', (code) => {
      if (code === 0) done(JSON.parse(Buffer.concat(said).toString()) as CaseFigures)
      else fail(new Error(`Measuring ${of.name} ended with ${code}.`))
    }),
  )
}

const percent = (v: number) => `${(100 * v).toFixed(0).padStart(3)} %`
const px = (v: number | undefined) => (v === undefined ? '-' : v > 900 ? 'lost' : v.toFixed(1))
const visible = (errors: readonly FrameError[]) => errors.filter(({ shown }) => shown >= shownEnough)
const share = (errors: readonly FrameError[], is: (one: FrameError) => boolean) =>
  errors.length ? errors.filter(is).length / errors.length : 1

function spread(errors: readonly FrameError[], of: (one: FrameError) => number): string {
  const sorted = errors.map(of).sort((a, b) => a - b)
  return [0.5, 0.95, 1].map((q) => px(sorted[Math.min(sorted.length - 1, Math.floor(q * sorted.length))])).join(' / ')
}

function printCase({ of, figures, everySecond }: CaseFigures): void {
  console.log(
    `${of.name}: ${of.camera}, hand ${of.hand}, ${of.rod.colour} of ${of.rod.heel.toFixed(0)} px, ` +
      `shutter ${of.shutter}, ${of.rate} a second, crf ${of.crf}`,
  )
  for (const figure of [...figures, everySecond]) console.log(`  ${lineOf(figure, figure === everySecond)}`)
}

function lineOf({ keys, errors, changedOutside, worse, ms }: RodFigure, every: boolean): string {
  const seen = visible(errors)
  return (
    `${every ? 'a key every 24' : `${String(keys.length).padStart(2)} keys`}: ` +
    `across ${spread(seen, (e) => e.across)}, heel ${spread(seen, (e) => e.heel)}, tip ${spread(seen, (e) => e.tip)}; ` +
    `within 3 px ${percent(share(seen, (e) => e.off <= 3))}, 5 ${percent(share(seen, (e) => e.off <= 5))}, ` +
    `10 ${percent(share(seen, (e) => e.off <= 10))}; made worse ${worse}, elsewhere ${changedOutside}; ${ms.toFixed(0)} ms a frame`
  )
}

function printAll(results: readonly CaseFigures[]): void {
  console.log(`\nOver all ${results.length} clips (median / 95 % / worst in px, frames on which the rod shows)`)
  const most = Math.max(...results.map(({ figures }) => figures.length))
  // A rod that needs no more keys keeps its figures.
  for (let k = 0; k < most; k++)
    console.log(
      `  ${lineOf(
        together(
          results.map(({ figures }) => figures[Math.min(k, figures.length - 1)]!),
          k + 1,
        ),
        false,
      )}`,
    )
  console.log(
    `  ${lineOf(
      together(
        results.map(({ everySecond }) => everySecond),
        0,
      ),
      true,
    )}`,
  )
  const from = (moves: readonly string[]) =>
    visible(results.filter(({ of }) => moves.includes(of.move)).flatMap(({ figures }) => figures[0]!.errors))
  for (const moves of [['swing', 'twirl', 'two sticks', 'passes behind'], ['thrust'], ['regrip']]) {
    const errors = from(moves)
    console.log(
      `  from one key, ${moves.join(', ')}: across within 3 px ${percent(share(errors, (e) => e.across <= 3))}, ` +
        `both ends within 5 px ${percent(share(errors, (e) => e.off <= 5))}`,
    )
  }
  const needed = results.map(
    ({ figures }) => figures.find(({ errors }) => visible(errors).every((e) => e.off <= 5))?.keys.length,
  )
  console.log(
    `  all visible frames within 5 px by at most 4 keys: ${percent(needed.filter((n) => n !== undefined && n <= 4).length / results.length)} of the clips`,
  )
  const first = results.flatMap(({ figures }) => figures.flatMap(({ errors }) => visible(errors)))
  const widths = spread(first, (e) => 100 * e.width)
  console.log(`  ${confidenceLine(first)}\n  widths off by ${widths} per cent`)
}

function together(figures: readonly RodFigure[], keys: number): RodFigure {
  const sum = (of: (one: RodFigure) => number) => figures.reduce((total, one) => total + of(one), 0)
  return {
    keys: Array.from({ length: keys }, (_, i) => i),
    errors: figures.flatMap(({ errors }) => errors),
    ...{ changedOutside: sum((one) => one.changedOutside), worse: sum((one) => one.worse) },
    ms: sum((one) => one.ms) / figures.length,
  }
}

const right = ({ off }: FrameError) => off <= 5

/** Area under the curve of the confidence, and of frames called so sure, how many are right. */
function confidenceLine(errors: readonly FrameError[]): string {
  const area = areaUnder(errors.map((one) => ({ value: one.confidence, right: right(one) })))
  const bands = [0, 0.2, 0.4, 0.6, 0.8].map((from) => {
    const within = errors.filter(
      ({ confidence }) => confidence >= from && confidence < from + 0.2 + (from > 0.7 ? 1 : 0),
    )
    return `${(100 * from).toFixed(0)}-${(100 * from + 20).toFixed(0)} %: ${percent(share(within, right))} of ${within.length}`
  })
  const sure = errors.filter(({ confidence }) => confidence >= 0.5)
  const rights = errors.filter(right)
  return (
    `confidence: area under the curve ${area.toFixed(2)}; called sure and right ${percent(share(sure, right))}, ` +
    `right but called unsure ${percent(share(rights, ({ confidence }) => confidence < 0.5))}; right by confidence ${bands.join(', ')}`
  )
}
