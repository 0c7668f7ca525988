import { cornerNodes, outline, smoothNodes } from '#core/shapes/kinds/outline.ts'
import { oval } from '#core/shapes/kinds/oval.ts'
import { pin } from '#core/shapes/kinds/pin.ts'
import { type BoardTruth, onBoard } from '../ground/board.ts'
import { type Case, groundSize } from '../ground/cases.ts'
import { boardClipOf, clipOf } from '../ground/clip.ts'
import { disguised, matteOf, strokeOf } from '../ground/compose.ts'
import { framesOf } from '../support/frames.ts'
import { type Figure, measured, print, type Subject } from './follow.ts'
import { areaUnder } from './sureness.ts'
import { painted, type PaintedFigure, printPainted } from './painted.ts'

/** Where shapes lie on a board, 0 to 1 along its sides. */
const ovalPlaces = [0.5, 0.5, 0.78, 0.5, 0.5, 0.8]
const corners = [0.1, 0.15, 0.85, 0.1, 0.9, 0.6, 0.5, 0.9, 0.15, 0.8]
const curve = Array.from({ length: 8 }, (_, i) => [
  0.5 + 0.36 * Math.cos((i * Math.PI) / 4),
  0.5 + (i % 2 ? 0.28 : 0.4) * Math.sin((i * Math.PI) / 4),
]).flat()

/** Pins, ovals and outlines on printed boards that are turned before filmed clips, each from one key and then corrected. */
export async function boards(cases: readonly Case[]): Promise<Figure[]> {
  const out: Figure[] = []
  for (const of of cases) {
    const { file, truth } = boardClipOf(of)
    const name = of.name.replace(/ .*,/, '')
    const figures = await measured(file, subjectsOn(truth, name))
    print(figures)
    out.push(...figures)
  }
  console.log(`\nOver ${cases.length} boards`)
  for (const kind of ['pin', 'oval', 'corners', 'curve']) {
    const own = out.filter(({ what }) => what.endsWith(kind))
    const mean = (of: (one: Figure) => number) => own.reduce((sum, one) => sum + of(one), 0) / own.length
    console.log(
      `  ${kind}: within 3 px ${(100 * mean((one) => one.within3)).toFixed(0)} %, 5 px ${(100 * mean((one) => one.within5)).toFixed(0)} %; ` +
        `all within 3 px by at most 4 keys on ${own.filter(({ keys }) => Number(keys) <= 4).length} of ${own.length}; ${mean((one) => one.ms).toFixed(0)} ms a frame`,
    )
  }
  return out
}

function subjectsOn(truth: readonly BoardTruth[], name: string): Subject[] {
  const on = (places: readonly number[]) => truth.map((board) => onBoard(board, places))
  const of = (what: string, kind: Subject['kind'], points: number[][]): Subject => ({
    ...{ what: `${name}: ${what}`, kind, settings: {}, truth: points, keys: [0], corrects: true },
  })
  return [
    of('pin', pin, truth.slice()),
    of('oval', oval, on(ovalPlaces)),
    of(
      'corners',
      outline,
      on(corners).map((points) => cornerNodes(points)),
    ),
    of(
      'curve',
      outline,
      on(curve).map((points) => smoothNodes(points)),
    ),
  ]
}

/** Overlap with the truth from which a painted frame is right. */
const rightFrom = 0.85

/** Performers of this drawer over filmed clips, painted by strokes and carried, and then corrected once a second. */
export async function performersOver(all: readonly Case[], disguise = false): Promise<PaintedFigure[]> {
  const cases = disguise ? all.map(disguised) : all
  const out: PaintedFigure[] = []
  for (const of of cases.filter((one) => one.body && one.move !== 'passes behind')) {
    const frames = framesOf(clipOf(of).file, groundSize.width, groundSize.height)
    const matte = matteOf(of)
    const known = frames.map((_, frame) => matte(frame))
    const figures = await painted({ what: of.name, frames, rate: of.rate, known, along: strokeOf(of) })
    printPainted(figures)
    out.push(...figures)
  }
  for (const [i, how] of ['two strokes', 'one corrected frame a second'].entries()) {
    const own = out.filter((_, k) => k % 2 === i)
    const mean = own.reduce((sum, one) => sum + one.overlap, 0) / own.length
    console.log(`Over ${own.length} performers, ${how}: overlap ${mean.toFixed(3)}`)
  }
  const told = out.flatMap(({ frames }) => frames)
  const list = told.map(({ overlap, confidence }) => ({ value: confidence, right: overlap >= rightFrom }))
  const wrong = list.filter(({ right }) => !right).length
  console.log(
    `  ${wrong} of ${list.length} frames below an overlap of ${rightFrom}; area under the curve of their confidence ${areaUnder(list).toFixed(2)}`,
  )
  return out
}
