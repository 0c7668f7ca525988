import type { Bend } from '#core/parameters/curves.ts'
import { say } from '#core/say.ts'

/** Common forms of a span at one click: control points of a cubic-bezier. */
export const bends: { name: string; bend: Bend }[] = [
  { name: 'straight', bend: [0, 0, 1, 1] },
  { name: say`slow start`, bend: [0.55, 0, 1, 0.5] },
  { name: say`slow end`, bend: [0, 0.5, 0.45, 1] },
  { name: say`slow at both ends`, bend: [0.65, 0, 0.35, 1] },
  { name: say`swing back first`, bend: [0.4, -0.45, 0.6, 1] },
  { name: 'overshoot', bend: [0.3, 0, 0.35, 1.5] },
]
