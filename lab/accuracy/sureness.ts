import { clippedSign, signNames } from '#core/tracking/rod/sureness.ts'
import { type FrameError, type RodFigure, shownEnough } from './groundRod.ts'

/** Which way each sign may count: one that turns round on other footage is worth nothing. */
const ways: Record<(typeof signNames)[number], 1 | -1> = {
  ...{ grip: 1, slide: 1, across: 1, hand: 1, other: 1, bent: -1 },
}
/** How strongly weights are drawn to nothing. */
const shrinking = 0.003
const folds = 4

/** What came of one clip. */
interface Clip {
  figures: readonly RodFigure[]
  everySecond: RodFigure
}

interface Row {
  x: number[]
  y: number
}

/**
 * Weights of a logistic model of the signs of a frame against whether it was right within 5 px, printed for
 * core/tracking/rod/sureness.ts, and how well models tell clips apart that they were not fitted to.
 */
export function fitted(results: readonly Clip[]): void {
  const rowsOf = (list: readonly Clip[]) =>
    list.flatMap(({ figures, everySecond }) => [...figures, everySecond].flatMap(({ errors }) => errors.flatMap(rowOf)))
  const areas = Array.from({ length: folds }, (_, fold) => {
    const weights = weightsOf(rowsOf(results.filter((_, i) => i % folds !== fold)))
    const others = rowsOf(results.filter((_, i) => i % folds === fold))
    return areaUnder(
      others.map(({ x, y }) => ({ value: x.reduce((sum, v, i) => sum + v * weights[i]!, 0), right: y > 0 })),
    )
  })
  const rows = rowsOf(results)
  const weights = weightsOf(rows)
  const told = [...signNames, 'one'].map((name, i) => `${name}: ${weights[i]!.toFixed(2)}`)
  console.log(`  fitted to ${rows.length} frames: ${told.join(', ')}`)
  console.log(
    `  area under the curve on clips it was not fitted to: ${areas.map((area) => area.toFixed(2)).join(', ')}`,
  )
}

function rowOf({ signs, shown, off }: FrameError): Row[] {
  if (!signs || shown < shownEnough) return []
  return [{ x: [...signNames.map((name) => clippedSign(signs, name)), 1], y: off <= 5 ? 1 : 0 }]
}

/** Gradient descent on the cross entropy, right and wrong frames counting alike in sum; weights kept on their side of 0. */
function weightsOf(rows: readonly Row[]): number[] {
  const width = signNames.length + 1
  const scale = Array.from(
    { length: width },
    (_, i) => Math.sqrt(rows.reduce((sum, { x }) => sum + x[i]! ** 2, 0) / rows.length) || 1,
  )
  const wrong = rows.filter(({ y }) => y === 0).length
  const weights = new Float64Array(width)
  for (let round = 0; round < 1500; round++) {
    const slope = new Float64Array(width)
    for (const { x, y } of rows) {
      let logit = 0
      for (let i = 0; i < width; i++) logit += (weights[i]! * x[i]!) / scale[i]!
      const miss = (1 / (1 + Math.exp(-logit)) - y) / (2 * (y ? rows.length - wrong : Math.max(1, wrong)))
      for (let i = 0; i < width; i++) slope[i]! += (miss * x[i]!) / scale[i]!
    }
    for (let i = 0; i < width; i++) {
      const way = i < signNames.length ? ways[signNames[i]!] : null
      weights[i]! -= 0.8 * (slope[i]! + (way === null ? 0 : shrinking * weights[i]!))
      if (way !== null && weights[i]! * way <= 0) weights[i] = 0
    }
  }
  return [...weights].map((weight, i) => weight / scale[i]!)
}

/** How often what is right has the higher value: Mann and Whitney (1947). */
export function areaUnder(list: readonly { value: number; right: boolean }[]): number {
  const sorted = [...list].sort((a, b) => a.value - b.value)
  let [below, pairs] = [0, 0]
  for (const { right } of sorted) {
    if (right) pairs += below
    else below++
  }
  return pairs / Math.max(1, below * (list.length - below))
}
