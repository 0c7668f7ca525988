import type { NumberParameter } from '../model/parameters.ts'
import type { PartKind } from './kind.ts'
import { withPoint } from './kind.ts'

export const featherSetting: NumberParameter = {
  type: 'number',
  name: 'feather',
  label: 'Feather',
  hint: 'Softness of the edge: how many pixels it takes to fade.',
  unit: 'px',
  min: 0,
  max: 200,
  step: 0.5,
  default: 2,
}

/** A closed curve: per node the node, the handle before it and the handle after it, six numbers a node. */
export const outline: PartKind = {
  kind: 'outline',
  title: 'Outline',
  placing: [],
  hold: true,
  settings: [featherSetting],
  handleForm: (index) => (index % 3 ? 'lever' : 'smooth'),
  moved(points, index, x, y) {
    if (index % 3) return withPoint(points, index, x, y)
    const out = [...points]
    const [dx, dy] = [x - points[2 * index]!, y - points[2 * index + 1]!]
    for (let i = 0; i < 3; i++) {
      out[2 * (index + i)]! += dx
      out[2 * (index + i) + 1]! += dy
    }
    return out
  },
  path(points) {
    const n = points.length
    const out = [points[0]!, points[1]!]
    for (let i = 0; i < n; i += 6) {
      const j = (i + 6) % n
      out.push(points[i + 4]!, points[i + 5]!, points[j + 2]!, points[j + 3]!, points[j]!, points[j + 1]!)
    }
    return out
  },
  fromClicks: (clicks) => smoothNodes(clicks),
}

/** Nodes through the given places with handles a sixth of the way between the neighbours (Catmull-Rom as Bezier). */
export function smoothNodes(places: readonly number[]): number[] {
  const n = places.length
  const out: number[] = []
  for (let i = 0; i < n; i += 2) {
    const [x, y] = [places[i]!, places[i + 1]!]
    const dx = (places[(i + 2) % n]! - places[(i - 2 + n) % n]!) / 6
    const dy = (places[(i + 3) % n]! - places[(i - 1 + n) % n]!) / 6
    out.push(x, y, x - dx, y - dy, x + dx, y + dy)
  }
  return out
}
