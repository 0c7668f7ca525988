/** A frame around chosen points: its box in plate pixels and the pivot about which it turns and grows. */
export interface SelectionFrame {
  left: number
  top: number
  right: number
  bottom: number
  pivotX: number
  pivotY: number
}
/** What of the frame is held: a corner or side by its place (0 least, 0.5 middle, 1 most), or one of the others. */
export type FrameGrip = { u: 0 | 0.5 | 1; v: 0 | 0.5 | 1 } | 'turn' | 'pivot'
/** What the sides of a frame do when they are dragged. */
export type SideDoes = 'stretch' | 'shear' | 'bend'
export type PlaneMap = (x: number, y: number) => [number, number]

/** `room`: how far the frame stands off the points, so that its grips do not lie on them. Null for less than two points. */
export function frameAround(
  points: readonly number[],
  pivot: { x: number; y: number } | null,
  room = 0,
): SelectionFrame | null {
  if (points.length < 4) return null
  let [left, top, right, bottom] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let i = 0; i < points.length; i += 2) {
    left = Math.min(left, points[i]!)
    right = Math.max(right, points[i]!)
    top = Math.min(top, points[i + 1]!)
    bottom = Math.max(bottom, points[i + 1]!)
  }
  const [pivotX, pivotY] = pivot ? [pivot.x, pivot.y] : [(left + right) / 2, (top + bottom) / 2]
  return { left: left - room, top: top - room, right: right + room, bottom: bottom + room, pivotX, pivotY }
}

/** Where a grip of the frame lies. The one that turns stands `out` pixels above the top. */
export function gripPlace(frame: SelectionFrame, grip: FrameGrip, out: number): [number, number] {
  if (grip === 'pivot') return [frame.pivotX, frame.pivotY]
  const [width, height] = [frame.right - frame.left, frame.bottom - frame.top]
  if (grip === 'turn') return [frame.left + width / 2, frame.top - out]
  return [frame.left + grip.u * width, frame.top + grip.v * height]
}

export const frameGrips: FrameGrip[] = [
  'pivot',
  'turn',
  ...([0, 0.5, 1] as const).flatMap((v) =>
    ([0, 0.5, 1] as const).flatMap((u) => (u === 0.5 && v === 0.5 ? [] : [{ u, v }])),
  ),
]

/**
 * What dragging a grip from one place to another does to the plane: corners grow about the pivot (`even` keeps the
 * proportions), sides stretch, shear, or bend (the middle goes along, the ends stay), the turning grip turns.
 */
export function frameMap(
  frame: SelectionFrame,
  grip: FrameGrip,
  sides: SideDoes,
  from: { x: number; y: number },
  to: { x: number; y: number },
  even: boolean,
): PlaneMap {
  const { pivotX: px, pivotY: py } = frame
  if (grip === 'pivot') return (x, y) => [x, y]
  if (grip === 'turn') {
    let turn = Math.atan2(to.y - py, to.x - px) - Math.atan2(from.y - py, from.x - px)
    if (even) turn = (Math.round(turn / (Math.PI / 12)) * Math.PI) / 12
    const [c, s] = [Math.cos(turn), Math.sin(turn)]
    return (x, y) => [px + c * (x - px) - s * (y - py), py + s * (x - px) + c * (y - py)]
  }
  const growth = (a: number, b: number, pivot: number) => (Math.abs(a - pivot) < 1e-6 ? 1 : (b - pivot) / (a - pivot))
  const [gx, gy] = [growth(from.x, to.x, px), growth(from.y, to.y, py)]
  if (grip.u !== 0.5 && grip.v !== 0.5) {
    const both = Math.abs(gx - 1) > Math.abs(gy - 1) ? gx : gy
    const [kx, ky] = even ? [both, both] : [gx, gy]
    return (x, y) => [px + kx * (x - px), py + ky * (y - py)]
  }
  const upright = grip.u === 0.5
  if (sides === 'stretch') return upright ? (x, y) => [x, py + gy * (y - py)] : (x, y) => [px + gx * (x - px), y]
  if (sides === 'shear') {
    const slope = upright
      ? (to.x - from.x) / (Math.abs(from.y - py) < 1e-6 ? 1e-6 : from.y - py)
      : (to.y - from.y) / (Math.abs(from.x - px) < 1e-6 ? 1e-6 : from.x - px)
    return upright ? (x, y) => [x + slope * (y - py), y] : (x, y) => [x, y + slope * (x - px)]
  }
  const hill = (value: number, low: number, high: number) => {
    const u = high > low ? (2 * (value - low)) / (high - low) - 1 : 0
    return 1 - u * u
  }
  return upright
    ? (x, y) => [x, y + (to.y - from.y) * hill(x, frame.left, frame.right)]
    : (x, y) => [x + (to.x - from.x) * hill(y, frame.top, frame.bottom), y]
}
