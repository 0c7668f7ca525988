import { type PartKind, matteSettings, polygonPath, withPoint } from '../kind.ts'

/** Two ends: [heel x, heel y, tip x, tip y]. Either may lie outside the frame. */
export const rod: PartKind = {
  kind: 'rod',
  title: 'Rod',
  numbers: 4,
  placing: ['Click the heel', 'Click the tip'],
  hold: false,
  settings: [
    width('widthHeel', 'Width at heel', 'How wide the prop is in the hand.'),
    width('widthTip', 'Width at tip', 'How wide the prop is at its far end.'),
    {
      type: 'number',
      name: 'reach',
      label: 'Reach',
      hint: 'How far a blade goes on past the tip of the prop.',
      unit: 'px',
      min: 0,
      max: 2000,
      step: 1,
      default: 0,
    },
    ...matteSettings,
  ],
  handleForm: (_, index) => (index === 0 ? 'heel' : 'tip'),
  group: (index) => [index],
  moved: withPoint,
  path(points, settings) {
    const [hx, hy, tx, ty] = points as [number, number, number, number]
    const length = Math.hypot(tx - hx, ty - hy) || 1
    const [nx, ny] = [-(ty - hy) / length, (tx - hx) / length]
    const a = Number(settings.widthHeel ?? 8) / 2
    const b = Number(settings.widthTip ?? 8) / 2
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

function width(name: string, label: string, hint: string) {
  return { type: 'number', name, label, hint, unit: 'px', min: 0.5, max: 400, step: 0.5, default: 8 } as const
}

/** Where a blade along the rod ends: the tip moved on by `reach` pixels. */
export function reachedTip(points: readonly number[], reach: number): [number, number] {
  const [hx, hy, tx, ty] = points as [number, number, number, number]
  const length = Math.hypot(tx - hx, ty - hy)
  if (length === 0) return [tx, ty]
  return [tx + ((tx - hx) / length) * reach, ty + ((ty - hy) / length) * reach]
}
