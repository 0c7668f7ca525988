import { flatten } from '#core/geometry/path.ts'
import type { Settings } from '#core/model/parameters.ts'
import type { PartKind } from '#core/shapes/kind.ts'

/** A shape that can be grabbed. */
export interface Traced {
  id: string
  kind: PartKind
  settings: Settings
  points: readonly number[]
}

/** What the tracer asks for and does; the bench answers. All places in plate pixels. */
export interface TracerBench {
  /** The chosen part on this frame, or its ghost; null where it was never placed. */
  chosen(): Traced | null
  /** The other parts on this frame, topmost first. */
  others(): Traced[]
  /** Kind that a click on the bare picture begins to place; null for none. */
  places(): PartKind | null
  choose(id: string): void
  choosePoint(index: number | null): void
  place(points: number[]): void
  drag(points: number[]): void
  drop(points: number[] | null): void
}

type State =
  | { name: 'idle' }
  | { name: 'placing'; clicks: number[] }
  | {
      name: 'pressing' | 'dragging'
      traced: Traced
      point: number | null
      from: { x: number; y: number }
      points: number[]
    }

/** Screen pixels that a press may move before it is a drag. */
const slack = 3

/** The hand on the picture as a little state machine: idle, placing, pressing, dragging. */
export class Tracer {
  state: State = { name: 'idle' }
  private readonly bench: TracerBench

  constructor(bench: TracerBench) {
    this.bench = bench
  }

  /** Index of the chosen part's point under the pointer, 'body' for the shape itself, null for neither. */
  under(x: number, y: number, k: number): { traced: Traced; point: number | null } | null {
    const chosen = this.bench.chosen()
    if (chosen) {
      const point = nearestPoint(chosen.points, x, y, 12 / k)
      if (point !== null) return { traced: chosen, point }
      if (onShape(chosen, x, y, 7 / k)) return { traced: chosen, point: null }
    }
    return null
  }

  /** `k` is the zoom: reaches are given in screen pixels. */
  down(x: number, y: number, k: number): void {
    if (this.state.name === 'placing') return this.click(x, y)
    const grip = this.under(x, y, k)
    if (grip) {
      this.state = { name: 'pressing', ...grip, from: { x, y }, points: [...grip.traced.points] }
      return
    }
    const kind = this.bench.places()
    if (kind) return this.click(x, y)
    const other = this.bench.others().find((traced) => onShape(traced, x, y, 7 / k))
    if (other) this.bench.choose(other.id)
  }

  move(x: number, y: number, k: number): void {
    const { state } = this
    if (state.name === 'pressing' && Math.hypot(x - state.from.x, y - state.from.y) * k > slack)
      this.state = { ...state, name: 'dragging' }
    if (this.state.name !== 'dragging') return
    const { traced, point, from } = this.state
    const [dx, dy] = [x - from.x, y - from.y]
    this.state.points =
      point === null
        ? traced.points.map((v, i) => v + (i % 2 ? dy : dx))
        : traced.kind.moved(traced.points, point, traced.points[2 * point]! + dx, traced.points[2 * point + 1]! + dy)
    this.bench.drag(this.state.points)
  }

  up(x: number, y: number): void {
    const { state } = this
    if (state.name === 'dragging') {
      this.state = { name: 'idle' }
      this.bench.choosePoint(state.point)
      this.bench.drop(state.points)
    } else if (state.name === 'pressing') {
      this.state = { name: 'idle' }
      // While shapes are placed a click is always the next place: the ghost often lies where the prop still is.
      if (this.bench.places()) this.click(x, y)
      else this.bench.choosePoint(state.point)
    }
  }

  /** Leaves what was begun; nothing is written. Returns whether there was anything. */
  cancel(): boolean {
    const { state } = this
    this.state = { name: 'idle' }
    if (state.name === 'dragging') this.bench.drop(null)
    return state.name !== 'idle'
  }

  private click(x: number, y: number): void {
    const kind = this.bench.places()
    if (!kind) return void this.cancel()
    const clicks = [...(this.state.name === 'placing' ? this.state.clicks : []), x, y]
    if (clicks.length < 2 * kind.placing.length) this.state = { name: 'placing', clicks }
    else {
      this.state = { name: 'idle' }
      this.bench.place(kind.fromClicks(clicks))
    }
  }
}

function nearestPoint(points: readonly number[], x: number, y: number, reach: number): number | null {
  let best: number | null = null
  let least = reach
  for (let i = 0; i < points.length / 2; i++) {
    const distance = Math.hypot(points[2 * i]! - x, points[2 * i + 1]! - y)
    if (distance <= least) {
      least = distance
      best = i
    }
  }
  return best
}

/** Whether a place lies inside the shape's edge or within `reach` of it. */
export function onShape({ kind, points, settings }: Traced, x: number, y: number, reach: number): boolean {
  const polygon = flatten(kind.path(points, settings), 1)
  let inside = false
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const [ax, ay, bx, by] = [polygon[j]!, polygon[j + 1]!, polygon[i]!, polygon[i + 1]!]
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside
    const length = (bx - ax) ** 2 + (by - ay) ** 2
    const u = length ? Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length)) : 0
    if (Math.hypot(ax + u * (bx - ax) - x, ay + u * (by - ay) - y) <= reach) return true
  }
  return inside
}
