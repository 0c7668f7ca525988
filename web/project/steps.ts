import { composeDiffs, type Diff } from '#core/records/diff.ts'
import type { PastChange } from '#core/records/exchange.ts'
import { type AnyRecord, matteElsewhere } from '#core/records/types.ts'

/** What is undone and done again at once. */
export interface Step {
  id: string
  label: string
  forward: Diff
  back: Diff
  group: string
  /** Milliseconds since 1970. */
  at: number
  /** Whether it only gives the state that it stands on a name. */
  stage: boolean
}

/** A step of the history as it is shown: what was done, or the name of a stage; `done` until it is undone. */
export interface HistoryEntry {
  id: string
  label: string
  at: number
  stage: boolean
  done: boolean
}

/** What the log of a project comes to: steps that can be undone, oldest first, and those that can be done again, newest first. */
export function stepsOf(past: readonly PastChange[]): { undo: Step[]; redo: Step[] } {
  let [undo, redo]: [Step[], Step[]] = [[], []]
  for (const { step, label, diff, back, at } of past) {
    const own = { id: step.id, label, forward: diff, group: '', at: Date.parse(at), stage: step.way === 'stage' }
    // Nobody knows what takes this one back: what lies before it is out of reach.
    if (!back) [undo, redo] = [[], []]
    else if (step.way === 'undo' || step.way === 'redo') {
      const [from, to] = step.way === 'undo' ? [undo, redo] : [redo, undo]
      // Names of stages are gone over with the steps that they stand before.
      while (from.at(-1)?.stage && from.some((one) => one.id === step.id)) to.push(from.pop()!)
      const last = from.at(-1)?.id === step.id ? from.pop()! : null
      // Another tab has done something in between: it goes its own way.
      if (last) to.push({ ...last, forward: diff, back })
      else undo.push({ ...own, back })
    } else {
      const last = undo.at(-1)
      if (last?.id === step.id) {
        last.forward = composeDiffs(last.forward, diff)
        last.back = composeDiffs(back, last.back)
      } else undo.push({ ...own, back })
      if (step.way === 'do') redo = []
    }
  }
  return { undo, redo }
}

/** Whether two records say the same, in whatever order: what one says with null the other may leave out, and pixels may lie elsewhere. */
export function sameRecord(one: AnyRecord | undefined, other: AnyRecord): boolean {
  if (one === other) return true
  if (!one) return false
  const apart = matteElsewhere(one) !== null || matteElsewhere(other) !== null
  return canonical(one, apart) === canonical(other, apart)
}
const canonical = (record: AnyRecord, withoutPixels: boolean): string =>
  JSON.stringify(record, (name, value: unknown) => {
    if (value === null || (withoutPixels && name === 'data')) return undefined
    if (typeof value !== 'object' || Array.isArray(value)) return value
    return Object.fromEntries(Object.entries(value!).sort(([a], [b]) => (a < b ? -1 : 1)))
  })
