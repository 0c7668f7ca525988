export interface Result {
  name: string
  ms: number
  /** What it is held against, in the same run. */
  reference: string
  referenceMs: number
  ratio: number
  /** The ratio should not be above this. */
  aim: number
}

export const result = (name: string, ms: number, reference: string, referenceMs: number, aim: number): Result => ({
  name,
  ms,
  reference,
  referenceMs,
  ratio: ms / referenceMs,
  aim,
})

export const median = (values: number[]): number => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.floor(sorted.length / 2)]!
}

/**
 * Median milliseconds of both, taken in turns after `warm` rounds that do not count, so that a noisy moment of the machine hits both.
 */
export function inTurns(
  mine: () => void,
  theirs: () => void,
  rounds = 25,
  warm = 5,
): { ms: number; referenceMs: number } {
  const times: [number[], number[]] = [[], []]
  for (let i = 0; i < rounds + warm; i++) {
    for (const [k, work] of [mine, theirs].entries()) {
      const start = performance.now()
      work()
      if (i >= warm) times[k]!.push(performance.now() - start)
    }
  }
  return { ms: median(times[0]), referenceMs: median(times[1]) }
}
