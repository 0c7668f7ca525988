import { say } from '../../say.ts'
import { named, still } from '../../parameters/builders.ts'
import type { Settings } from '../../parameters/parameters.ts'
import { matteSettings, type PartKind, polygonPath, withPoint } from '../kind.ts'

/** Pixels that a rod is wide until somebody says otherwise. */
const usualWidth = 8

/** Numbers of a rod whose width is traced, too. */
const withWidth = 8

/**
 * Two ends: [heel x, heel y, tip x, tip y]; either may lie outside the frame. Where the width is traced, too, a place on its
 * side follows for each end, a fifth of the way towards the other one, where a hand can take it: how far it lies off the axis
 * is half of the width at that end.
 */
export const rod: PartKind = {
  kind: 'rod',
  title: say`Rod`,
  numbers: [4, withWidth],
  placing: [say`Click the heel`, say`Click the tip`],
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
    const out = withPoint(points, index, x, y)
    if (!widths) return out
    // An end takes its width along; a side goes as far off the axis as it was drawn.
    const drawn = index < 2 ? widths : tracedWidths(out)!
    return withTracedWidth(out, { heel: Math.max(least, drawn.heel), tip: Math.max(least, drawn.tip) })
  },
  carried(before, after, chosen) {
    const widths = tracedWidths(before)
    return widths && !(chosen.includes(0) && chosen.includes(1)) ? withTracedWidth(after, widths) : after
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
/** The least width that a hand can draw, in pixels. */
const least = 0.5
/** Where its sides are marked: so much of the way from an end to the other one. */
const sideAt = 0.2

/** Which way its width goes, of length 1: to the right where it points up. */
function normalOf([hx, hy, tx, ty]: readonly number[]): [number, number] {
  const length = Math.hypot(tx! - hx!, ty! - hy!)
  // A rod that is one place lies across the picture.
  return length > 0 ? [-(ty! - hy!) / length, (tx! - hx!) / length] : [0, 1]
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
  const [nx, ny] = normalOf(points)
  const across = (i: number) => 2 * Math.abs((points[i]! - points[0]!) * nx + (points[i + 1]! - points[1]!) * ny)
  return { heel: across(4), tip: across(6) }
}
export const isWidthTraced = (points: readonly number[]): boolean => points.length === withWidth

/** The rod with its widths in pixels as a part of its shape, and without. */
export function withTracedWidth(points: readonly number[], { heel, tip }: RodWidths): number[] {
  const [hx, hy, tx, ty] = points as [number, number, number, number]
  const [nx, ny] = normalOf(points)
  const side = (u: number, width: number) => [
    hx + (tx - hx) * u + (nx * width) / 2,
    hy + (ty - hy) * u + (ny * width) / 2,
  ]
  return [hx, hy, tx, ty, ...side(sideAt, heel), ...side(1 - sideAt, tip)]
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
