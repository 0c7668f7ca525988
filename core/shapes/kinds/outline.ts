import { say } from '../../say.ts'
import type { ClosedPath } from '../../geometry/path.ts'
import { named, still } from '../../parameters/builders.ts'
import type { Settings } from '../../parameters/parameters.ts'
import { matteSettings, type PartKind, withPoint } from '../kind.ts'

/**
 * Numbers a node takes up: the node, the handle before it, the handle after it, and the place where the edge has faded
 * away (on the node itself where it fades as the whole part does). x and y each.
 */
export const nodeNumbers = 8
/** Points a node takes up. */
export const nodePoints = nodeNumbers / 2

/** A closed curve of cubic segments through its nodes. */
export const outline: PartKind = {
  kind: 'outline',
  title: say`Outline`,
  placing: [say`Click corners, press and drag for smooth points, or draw around it in one stroke`],
  hold: true,
  settings: named({
    ...matteSettings,
    roundness: still('Roundness', '%', [0, 1, 0.01], 0, 'Rounds all corners: 100 % runs smoothly through them.'),
  }),
  handleForm(points, index) {
    const place = index % nodePoints
    if (place === 3) return 'soft'
    if (place > 0) return 'lever'
    return isCorner(points, index / nodePoints) ? 'corner' : 'smooth'
  },
  group: (_, index) => (index % nodePoints ? [index] : [index, index + 1, index + 2, index + 3]),
  moved(points, index, x, y) {
    const place = index % nodePoints
    if (place === 3) return withPoint(points, index, x, y)
    const at = (index - place) * 2
    if (place === 0) {
      const out = [...points]
      const [dx, dy] = [x - points[at]!, y - points[at + 1]!]
      for (let i = 0; i < nodeNumbers; i++) out[at + i]! += i % 2 ? dy : dx
      return out
    }
    const out = withPoint(points, index, x, y)
    if (isCorner(points, at / nodeNumbers)) return out
    // The other lever of a smooth point turns along and keeps its length.
    const other = at + (place === 1 ? 4 : 2)
    const [px, py] = [points[at]!, points[at + 1]!]
    const length = Math.hypot(points[other]! - px, points[other + 1]! - py)
    const away = Math.hypot(x - px, y - py)
    if (away > 1e-6) {
      out[other] = px - ((x - px) / away) * length
      out[other + 1] = py - ((y - py) / away) * length
    }
    return out
  },
  path: (points, settings) => outlinePath(points, settings, 0),
  fromClicks: (clicks) => cornerNodes(clicks),
}

/**
 * The outline's curve, or with `soft` up to 1 the curve that share of the way to where its edge has faded away.
 * Corners are rounded by the part's roundness.
 */
export function outlinePath(points: readonly number[], settings: Settings, soft: number): ClosedPath {
  const n = points.length
  const round = Number(settings.roundness ?? 0)
  const at = (i: number, k: number): [number, number] => {
    const [sx, sy] = [(points[i + 6]! - points[i]!) * soft, (points[i + 7]! - points[i + 1]!) * soft]
    let [x, y] = [points[i + k]!, points[i + k + 1]!]
    if (round > 0 && k > 0 && isCorner(points, i / nodeNumbers)) {
      const way = k === 2 ? -1 : 1
      const [before, after] = [(i - nodeNumbers + n) % n, (i + nodeNumbers) % n]
      x += (way * round * (points[after]! - points[before]!)) / 6
      y += (way * round * (points[after + 1]! - points[before + 1]!)) / 6
    }
    return [x + sx, y + sy]
  }
  const out: number[] = [...at(0, 0)]
  for (let i = 0; i < n; i += nodeNumbers) {
    const j = (i + nodeNumbers) % n
    out.push(...at(i, 4), ...at(j, 2), ...at(j, 0))
  }
  return out
}

/** Farthest that the edge fades beyond the part's own feather at one of its points, in pixels. */
export function softest(points: readonly number[]): number {
  let most = 0
  for (let i = 0; i < points.length; i += nodeNumbers)
    most = Math.max(most, Math.hypot(points[i + 6]! - points[i]!, points[i + 7]! - points[i + 1]!))
  return most
}

/** Whether the edge turns sharply at a node: no handles, or handles that do not lie on one line. */
export function isCorner(points: readonly number[], node: number): boolean {
  const i = node * nodeNumbers
  const [ax, ay] = [points[i + 2]! - points[i]!, points[i + 3]! - points[i + 1]!]
  const [bx, by] = [points[i + 4]! - points[i]!, points[i + 5]! - points[i + 1]!]
  const lengths = Math.hypot(ax, ay) * Math.hypot(bx, by)
  // Within about three degrees counts as smooth.
  return lengths < 1e-6 || (ax * bx + ay * by) / lengths > -0.9986
}

/** A node at a place with its two handles; its edge fades as the part's does. */
export const nodeAt = (x: number, y: number, before: [number, number], after: [number, number]): number[] => [
  ...[x, y, ...before, ...after],
  ...[x, y],
]

export function cornerNodes(places: readonly number[]): number[] {
  const out: number[] = []
  for (let i = 0; i < places.length; i += 2) {
    const place: [number, number] = [places[i]!, places[i + 1]!]
    out.push(...nodeAt(...place, place, place))
  }
  return out
}

/** Nodes through the given places with handles a sixth of the way between the neighbours (Catmull-Rom as Bezier). */
export function smoothNodes(places: readonly number[]): number[] {
  const n = places.length
  const out: number[] = []
  for (let i = 0; i < n; i += 2) {
    const [x, y] = [places[i]!, places[i + 1]!]
    const dx = (places[(i + 2) % n]! - places[(i - 2 + n) % n]!) / 6
    const dy = (places[(i + 3) % n]! - places[(i - 1 + n) % n]!) / 6
    out.push(...nodeAt(x, y, [x - dx, y - dy], [x + dx, y + dy]))
  }
  return out
}
