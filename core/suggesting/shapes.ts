import { coverPolygon } from '../matte/coverage.ts'
import { marked } from '../painting/strokes.ts'
import { type Raster, rasterOf } from '../pixels/buffers/raster.ts'
import { cornerNodes, nodeNumbers, smoothNodes } from '../shapes/kinds/outline.ts'
import type { Box, Detected } from './detected.ts'

/** Points of an eyelid's outline between its two corners, above and below. */
const perLid = 3

/**
 * An outline of eight points around an eye: both corners, and three points on either lid. The corners are the two places
 * of the lid's line that lie farthest apart; the outer one first.
 */
export function lidOutline({ places, lines }: Detected, eye: 'left eye' | 'right eye'): number[] {
  const line = lines[eye]!
  const at = (i: number): [number, number] => [places[2 * line[i]!]!, places[2 * line[i]! + 1]!]
  const n = line.length
  let [a, b, most] = [0, 0, -1]
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++) {
      const apart = Math.hypot(at(i)[0] - at(j)[0], at(i)[1] - at(j)[1])
      if (apart > most) [a, b, most] = [i, j, apart]
    }
  const between = (from: number, to: number) =>
    Array.from({ length: perLid }, (_, k) => at((from + Math.round(((k + 1) * (to - from)) / (perLid + 1))) % n)).flat()
  const around = [...at(a), ...between(a, b), ...at(b), ...between(b, a + n)]
  const nodes = smoothNodes(around)
  // The lids meet at the corners: no handles there.
  for (const corner of [0, perLid + 1]) {
    const place = [around[2 * corner]!, around[2 * corner + 1]!]
    nodes.splice(corner * nodeNumbers, nodeNumbers, ...cornerNodes(place))
  }
  return nodes
}

/** Fingers by the numbers of their places, from the wrist out, and the palm's edge. */
const fingers = [
  [1, 2, 3, 4],
  [5, 6, 7, 8],
  [9, 10, 11, 12],
  [13, 14, 15, 16],
  [17, 18, 19, 20],
]
const palm = [0, 1, 5, 9, 13, 17]

/** What a hand covers by its bones: the palm, and fingers about a fifth as wide as the palm. Null where it is too small. */
export function handMatte({ places }: Detected, size: { width: number; height: number }): Raster | null {
  const at = (i: number): [number, number] => [places[2 * i]!, places[2 * i + 1]!]
  const [[ax, ay], [bx, by]] = [at(5), at(17)]
  const wide = Math.max(4, 0.24 * Math.hypot(ax - bx, ay - by))
  const whole = { x: 0, y: 0, ...size }
  const strokes = [...fingers, [...palm, 0]].map((line) => ({
    ...{ frame: 0, wanted: true, size: wide, points: line.flatMap(at) },
  }))
  const out = marked(strokes, whole, 1)
  const inside = new Float32Array(out.length)
  coverPolygon(palm.flatMap(at), whole, inside)
  return rasterOf(
    out.map((said, i) => (said || inside[i]! > 0.5 ? 255 : 0)),
    whole,
  )
}

/** A person's mask as a matte at full size, bilinear between its pixels; what is hardly a person is left out. */
export function personMatte({ mask }: Detected, { width, height }: { width: number; height: number }): Raster | null {
  if (!mask) return null
  const { data, width: row, box } = mask
  const [left, top] = [Math.max(0, Math.floor(box[0])), Math.max(0, Math.floor(box[1]))]
  const [right, bottom] = [Math.min(width, Math.ceil(box[2])), Math.min(height, Math.ceil(box[3]))]
  const area = { x: left, y: top, width: Math.max(0, right - left), height: Math.max(0, bottom - top) }
  const [sx, sy] = [row / (box[2] - box[0]), mask.height / (box[3] - box[1])]
  const out = new Uint8Array(area.width * area.height)
  for (let y = 0; y < area.height; y++) {
    const gy = Math.max(0, Math.min(mask.height - 1.001, (top + y + 0.5 - box[1]) * sy - 0.5))
    for (let x = 0; x < area.width; x++) {
      const gx = Math.max(0, Math.min(row - 1.001, (left + x + 0.5 - box[0]) * sx - 0.5))
      const i = (gy | 0) * row + (gx | 0)
      const [s, t] = [gx - (gx | 0), gy - (gy | 0)]
      const upper = data[i]! + (data[i + 1]! - data[i]!) * s
      const lower = data[i + row]! + (data[i + row + 1]! - data[i + row]!) * s
      const value = upper + (lower - upper) * t
      out[y * area.width + x] = value < 64 ? 0 : value
    }
  }
  return rasterOf(out, area)
}

const middleOf = ([left, top, right, bottom]: Box) => [(left + right) / 2, (top + bottom) / 2] as const

/**
 * A box with room around it, within the picture: where to look closer. Null where that is most of the picture anyway.
 * `room`: of the longer side of the box, to each side.
 */
export function closerBox(
  [left, top, right, bottom]: Box,
  room: number,
  { width, height }: { width: number; height: number },
): Box | null {
  const by = room * Math.max(right - left, bottom - top)
  const out: Box = [
    Math.max(0, Math.floor(left - by)),
    Math.max(0, Math.floor(top - by)),
    Math.min(width, Math.ceil(right + by)),
    Math.min(height, Math.ceil(bottom + by)),
  ]
  return Math.max(out[2] - out[0], out[3] - out[1]) > 0.7 * Math.max(width, height) ? null : out
}

/**
 * Parts of a picture that are looked at for what is too small in the whole: squares of half its longer side that overlap by
 * half, so that nothing up to a quarter of it is cut by all of them.
 */
export function tilesOf({ width, height }: { width: number; height: number }): Box[] {
  const side = Math.ceil(Math.max(width, height) / 2)
  const starts = (length: number) => {
    const count = Math.max(1, Math.ceil((length - side) / (side / 2)) + 1)
    return Array.from({ length: count }, (_, i) =>
      Math.round((i * Math.max(0, length - side)) / Math.max(1, count - 1)),
    )
  }
  return starts(height).flatMap((top) =>
    starts(width).map((left): Box => [left, top, Math.min(width, left + side), Math.min(height, top + side)]),
  )
}

/** How much two boxes have in common, of what both cover. */
export function sharedBox(a: Box, b: Box): number {
  const across = Math.max(0, Math.min(a[2], b[2]) - Math.max(a[0], b[0]))
  const down = Math.max(0, Math.min(a[3], b[3]) - Math.max(a[1], b[1]))
  const area = (box: Box) => (box[2] - box[0]) * (box[3] - box[1])
  const both = across * down
  return both / Math.max(1e-9, area(a) + area(b) - both)
}

/** What was found in a part of the picture whose corner lies at (x, y), in the whole picture. */
export function movedBy(one: Detected, x: number, y: number): Detected {
  const box = (of: Box): Box => [of[0] + x, of[1] + y, of[2] + x, of[3] + y]
  return {
    ...one,
    box: box(one.box),
    places: one.places.map((v, i) => v + (i % 2 ? y : x)),
    mask: one.mask && { ...one.mask, box: box(one.mask.box) },
  }
}

/** The one of several that is most likely the same as before: nearest by its middle, no farther than its own size. */
export function sameAs(before: Detected, now: readonly Detected[]): Detected | null {
  const [x, y] = middleOf(before.box)
  const reach = Math.max(before.box[2] - before.box[0], before.box[3] - before.box[1])
  let best: { one: Detected; away: number } | null = null
  for (const one of now) {
    const [ox, oy] = middleOf(one.box)
    const away = Math.hypot(ox - x, oy - y)
    if (away <= reach && (!best || away < best.away)) best = { one, away }
  }
  return best?.one ?? null
}

/** Shapes over frames with a trembling taken off them: each with half of itself and a quarter of both its neighbours. */
export function smoothedOver(shapes: ReadonlyMap<number, readonly number[]>): Map<number, number[]> {
  const frames = [...shapes.keys()].sort((a, b) => a - b)
  return new Map(
    frames.map((frame, k) => {
      const own = shapes.get(frame)!
      const [before, after] = [frames[k - 1], frames[k + 1]]
      const even = before !== undefined && after !== undefined && frame - before === after - frame
      if (!even) return [frame, [...own]]
      const [a, b] = [shapes.get(before)!, shapes.get(after)!]
      return [frame, own.map((v, i) => 0.5 * v + 0.25 * (a[i]! + b[i]!))]
    }),
  )
}

/** Frames of a shot that are looked at: the given one, and on both sides every so many. */
export function lookedAt(frame: number, length: number, every: number): number[] {
  const out: number[] = []
  for (let f = frame % every; f < length; f += every) out.push(f)
  return out
}
