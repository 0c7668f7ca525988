import { say } from '../../say.ts'
import { named } from '../../parameters/builders.ts'
import { matteSettings, type PartKind, withPoint } from '../kind.ts'

// Distance of the handles of a quarter circle of radius 1: 4/3 (sqrt 2 - 1), off by at most 0.03 per cent.
const quarter = 0.5522847498

/** Centre, end of the first half-axis, end of the second: six numbers; a turned or sheared ellipse is one too. */
export const oval: PartKind = {
  kind: 'oval',
  title: say`Oval`,
  numbers: [6],
  placing: [say`Click the middle`, say`Click the edge`],
  hold: true,
  settings: named(matteSettings),
  handleForm: (_, index) => (index === 0 ? 'corner' : 'smooth'),
  group: (_, index) => (index === 0 ? [0, 1, 2] : [index]),
  moved(points, index, x, y) {
    if (index > 0) return withPoint(points, index, x, y)
    const [dx, dy] = [x - points[0]!, y - points[1]!]
    return points.map((value, i) => value + (i % 2 ? dy : dx))
  },
  path(points) {
    const [cx, cy, ax, ay, bx, by] = points as [number, number, number, number, number, number]
    const [ux, uy, vx, vy] = [ax - cx, ay - cy, bx - cx, by - cy]
    const at = (u: number, v: number) => [cx + u * ux + v * vx, cy + u * uy + v * vy]
    const k = quarter
    return [
      ...at(1, 0),
      ...[...at(1, k), ...at(k, 1), ...at(0, 1)],
      ...[...at(-k, 1), ...at(-1, k), ...at(-1, 0)],
      ...[...at(-1, -k), ...at(-k, -1), ...at(0, -1)],
      ...[...at(k, -1), ...at(1, -k), ...at(1, 0)],
    ]
  },
  fromClicks(clicks) {
    const [cx, cy, x, y] = clicks as [number, number, number, number]
    // The clicked place lies on the edge at 45 degrees, as when a box is drawn from its middle.
    const [wide, high] = [Math.abs(x - cx), Math.abs(y - cy)]
    // Straight across or straight down nobody means a sliver: that is the edge of a circle.
    const flat = Math.min(wide, high) < 0.15 * Math.max(wide, high)
    const round = Math.hypot(wide, high)
    const [rx, ry] = [Math.max(1, flat ? round : wide), Math.max(1, flat ? round : high)]
    return [cx, cy, cx + rx, cy, cx, cy + ry]
  },
}
