import { named, still } from '../../parameters/builders.ts'
import type { Settings } from '../../parameters/parameters.ts'
import { matteSettings, type PartKind, polygonPath, withPoint } from '../kind.ts'

/** Pixels that a rod is wide until somebody says otherwise. */
const usualWidth = 8

/** Two ends: [heel x, heel y, tip x, tip y]. Either may lie outside the frame. */
export const rod: PartKind = {
  kind: 'rod',
  title: 'Rod',
  numbers: 4,
  placing: ['Click the heel', 'Click the tip'],
  hold: false,
  settings: named({
    widthHeel: still('Width at heel', 'px', [0.5, 400, 0.5], usualWidth, 'How wide the prop is in the hand.'),
    widthTip: still('Width at tip', 'px', [0.5, 400, 0.5], usualWidth, 'How wide the prop is at its far end.'),
    reach: still('Reach', 'px', [0, 2000, 1], 0, 'How far a blade goes on past the tip of the prop.'),
    ...matteSettings,
  }),
  handleForm: (_, index) => (index === 0 ? 'heel' : 'tip'),
  group: (index) => [index],
  moved: withPoint,
  path(points, settings) {
    const [hx, hy, tx, ty] = points as [number, number, number, number]
    const length = Math.hypot(tx - hx, ty - hy) || 1
    const [nx, ny] = [-(ty - hy) / length, (tx - hx) / length]
    const { heel, tip } = rodWidths(settings)
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
}

/** How wide a rod is at both ends, in pixels. */
export const rodWidths = (settings: Settings): { heel: number; tip: number } => ({
  heel: Number(settings.widthHeel ?? usualWidth),
  tip: Number(settings.widthTip ?? usualWidth),
})

/** How far a blade goes on past the tip, in pixels. */
export const rodReach = (settings: Settings): number => Number(settings.reach ?? 0)

/** Where a blade along the rod ends: the tip moved on by `reach` pixels. */
export function reachedTip(points: readonly number[], reach: number): [number, number] {
  const [hx, hy, tx, ty] = points as [number, number, number, number]
  const length = Math.hypot(tx - hx, ty - hy)
  if (length === 0) return [tx, ty]
  return [tx + ((tx - hx) / length) * reach, ty + ((ty - hy) / length) * reach]
}
