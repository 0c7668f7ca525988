import { named, still } from '../../parameters/builders.ts'
import type { Settings } from '../../parameters/parameters.ts'
import { matteSettings, type PartKind, polygonPath, withPoint } from '../kind.ts'

/** Pixels that a rod is wide until somebody says otherwise. */
const usualWidth = 8

/** Numbers of a rod whose width is traced, too. */
const withWidth = 8

/**
 * Two ends: [heel x, heel y, tip x, tip y]; either may lie outside the frame. Where the width is traced, too, one side of
 * the rod beside each of them follows: how far it lies off its end is half of the width there.
 */
export const rod: PartKind = {
  kind: 'rod',
  title: 'Rod',
  numbers: [4, withWidth],
  placing: ['Click the heel', 'Click the tip'],
  hold: false,
  settings: named({
    widthHeel: still('Width at heel', 'px', [0.5, 400, 0.5], usualWidth, 'How wide the prop is in the hand.'),
    widthTip: still('Width at tip', 'px', [0.5, 400, 0.5], usualWidth, 'How wide the prop is at its far end.'),
    reach: still('Reach', 'px', [0, 2000, 1], 0, 'How far a blade goes on past the tip of the prop.'),
    ...matteSettings,
  }),
  handleForm: (_, index) => (index > 1 ? 'lever' : index === 0 ? 'heel' : 'tip'),
  group: ({ length }, index) => (length === withWidth && index < 2 ? [index, index + 2] : [index]),
  moved(points, index, x, y) {
    const widths = tracedWidths(points)
    if (!widths) return withPoint(points, index, x, y)
    if (index < 2) return withTracedWidth(withPoint(points, index, x, y), widths)
    const end = index - 2
    const half = Math.max(leastHalf, Math.abs(across(points, x - points[2 * end]!, y - points[2 * end + 1]!)))
    return withTracedWidth(points, { ...widths, [end === 0 ? 'heel' : 'tip']: 2 * half })
  },
  path(points, settings) {
    const [hx, hy, tx, ty] = points as [number, number, number, number]
    const [nx, ny] = normalOf(points)
    const { heel, tip } = rodWidths(points, settings)
    const [a, b] = [heel / 2, tip / 2]
    return polygonPath([
      hx + nx * a,
      hy + ny * a,
      tx + nx * b,
      ty + ny * b,
      tx - nx * b,
      ty - ny * b,
      hx - nx * a,
      hy - ny * a,
    ])
  },
  fromClicks: (clicks) => clicks.slice(0, 4),
  likewise: (points, other, settings) =>
    points.length === other.length
      ? points
      : other.length === withWidth
        ? withTracedWidth(points, rodWidths(other, settings))
        : withoutTracedWidth(points),
}
/** Half of the least width, in pixels. */
const leastHalf = 0.25

/** Which way its width goes, of length 1: to the right where it points up. */
function normalOf([hx, hy, tx, ty]: readonly number[]): [number, number] {
  const length = Math.hypot(tx! - hx!, ty! - hy!) || 1
  return [-(ty! - hy!) / length, (tx! - hx!) / length]
}
const across = (points: readonly number[], dx: number, dy: number): number => {
  const [nx, ny] = normalOf(points)
  return nx * dx + ny * dy
}

/** How wide a rod is at both ends, in pixels. */
export interface RodWidths {
  heel: number
  tip: number
}

/** Its widths on this frame where they are traced, else those that were set for all frames. */
export const rodWidths = (points: readonly number[], settings: Settings): RodWidths =>
  tracedWidths(points) ?? {
    heel: Number(settings.widthHeel ?? usualWidth),
    tip: Number(settings.widthTip ?? usualWidth),
  }

function tracedWidths(points: readonly number[]): RodWidths | null {
  if (points.length !== withWidth) return null
  const [hx, hy, tx, ty, ax, ay, bx, by] = points as [number, number, number, number, number, number, number, number]
  return { heel: 2 * Math.hypot(ax - hx, ay - hy), tip: 2 * Math.hypot(bx - tx, by - ty) }
}
export const isWidthTraced = (points: readonly number[]): boolean => points.length === withWidth

/** The rod with its widths in pixels as a part of its shape, and without. */
export function withTracedWidth(points: readonly number[], { heel, tip }: RodWidths): number[] {
  const [hx, hy, tx, ty] = points as [number, number, number, number]
  const [nx, ny] = normalOf(points)
  const [a, b] = [heel / 2, tip / 2]
  return [hx, hy, tx, ty, hx + nx * a, hy + ny * a, tx + nx * b, ty + ny * b]
}
export const withoutTracedWidth = (points: readonly number[]): number[] => points.slice(0, 4)

/** How far a blade goes on past the tip, in pixels. */
export const rodReach = (settings: Settings): number => Number(settings.reach ?? 0)

/** Where a blade along the rod ends: the tip moved on by `reach` pixels. */
export function reachedTip(points: readonly number[], reach: number): [number, number] {
  const [hx, hy, tx, ty] = points as [number, number, number, number]
  const length = Math.hypot(tx - hx, ty - hy)
  if (length === 0) return [tx, ty]
  return [tx + ((tx - hx) / length) * reach, ty + ((ty - hy) / length) * reach]
}
