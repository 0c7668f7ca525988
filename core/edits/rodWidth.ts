import type { Diff } from '../records/diff.ts'
import type { Records } from '../records/records.ts'
import type { Part } from '../records/types.ts'
import { isWidthTraced, type RodWidths, rodWidths, withoutTracedWidth, withTracedWidth } from '../shapes/kinds/rod.ts'
import { pointsChanged } from './keys.ts'

/** A rod's shape with its width, which is the one that was set where it carries none. */
export const traced = ({ settings }: Pick<Part, 'settings'>, points: readonly number[]): number[] =>
  isWidthTraced(points) ? [...points] : withTracedWidth(points, rodWidths(points, settings))

/** The width of a rod traced with it from now on: every key carries the one that was set for all frames. */
export const widthTraced = (records: Records, part: Part): Diff =>
  pointsChanged(records, part, (points) => traced(part, points))

/** One width for all frames: the middle of those that its keys carry. */
export function widthSet(records: Records, part: Part): Diff {
  const all = records.childrenOf('key', part.id).map(({ points }) => rodWidths(points, part.settings))
  const middle = (end: keyof RodWidths) => all.map((one) => one[end]).sort((a, b) => a - b)[all.length >> 1]
  const [heel, tip] = [middle('heel'), middle('tip')]
  const { put, remove } = pointsChanged(records, part, withoutTracedWidth)
  if (heel === undefined || tip === undefined) return { put, remove }
  const rounded = (width: number) => Math.max(0.5, Math.round(2 * width) / 2)
  const settings = { ...part.settings, widthHeel: rounded(heel), widthTip: rounded(tip) }
  return { put: [...put, { ...part, settings }], remove }
}
