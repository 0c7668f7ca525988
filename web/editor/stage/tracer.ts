import { flatten, isNear, polygonArea } from '#core/geometry/path.ts'
import {
  type FrameGrip,
  frameGrips,
  frameMap,
  gripPlace,
  type SelectionFrame,
  type SideDoes,
} from '#core/geometry/selectionFrame.ts'
import type { Settings } from '#core/parameters/parameters.ts'
import { anchors, carriedBy, type PartKind } from '#core/shapes/kind.ts'
import { nodeAt, nodeNumbers } from '#core/shapes/kinds/outline.ts'
import { fitStroke, leastNodes, nearestOnOutline } from '#core/shapes/outlineEdit.ts'
import { say } from '#core/say.ts'

/** A shape that can be grabbed. */
export interface Traced {
  id: string
  kind: PartKind
  settings: Settings
  points: readonly number[]
  locked: boolean
}

/** What the tracer asks for and does; the editor answers. All places in plate pixels. */
export interface TracerHost {
  /** The chosen part on this frame, or its ghost; null where it was never placed. */
  chosen(): Traced | null
  /** The other parts on this frame, topmost first. */
  others(): Traced[]
  /** Kind that a click on the bare picture begins to place; null for none. */
  places(): PartKind | null
  /** Chosen points of the chosen part, by index. */
  selection(): readonly number[]
  /** The frame around what is chosen, where one is shown, and what its sides do. */
  frame(): { frame: SelectionFrame; sides: SideDoes } | null
  choose(id: string): void
  select(points: readonly number[]): void
  setPivot(x: number, y: number): void
  place(kind: PartKind, points: number[]): void
  /** The hand let go of the chosen part in this shape. */
  reshape(points: number[]): void
  insert(segment: number, t: number): void
  /** The place on a strong edge near (x, y) while points go to edges, else the place itself. */
  snapped(x: number, y: number): { x: number; y: number }
  /** Tells why something can not be done. */
  say(sentence: string): void
}

export interface Hand {
  x: number
  y: number
  /** Zoom: hit radii are given in screen pixels. */
  k: number
  shift?: boolean
  ctrl?: boolean
}

interface Place {
  x: number
  y: number
}
export type Grip = { point: number } | { frame: FrameGrip } | 'body'
export type State =
  | { name: 'idle' }
  /** Fixed places clicked so far. */
  | { name: 'placing'; kind: PartKind; clicks: number[] }
  /** Nodes of an outline so far; `press` while the button is down on the newest. */
  | { name: 'outlining'; nodes: number[]; press: Place | null }
  /** A freehand stroke. */
  | { name: 'stroking'; stroke: number[] }
  | { name: 'selecting'; lasso: boolean; add: boolean; path: number[] }
  | { name: 'pressing' | 'dragging'; traced: Traced; grip: Grip; from: Place; points: number[]; add: boolean }

/** Screen pixels that a press may move before it is a drag. */
const slack = 3
/** Screen pixels: how near a handle, an edge, the first point of an outline counts as on it. */
export const hitRadii = { handle: 12, edge: 7, close: 11, turn: 26, grip: 10 }
/** Screen pixels that the frame stands off what it holds. */
export const frameRoom = 14
/** A first press that is drawn on at least this far, in screen pixels, is a stroke and not a handle. */
const strokeFrom = 48

/** The hand on the picture as a little state machine: idle, placing, outlining, stroking, selecting, pressing, dragging. */
export class Tracer {
  state: State = { name: 'idle' }
  private readonly host: TracerHost

  constructor(host: TracerHost) {
    this.host = host
  }

  /** The chosen part's points while they are dragged, not committed yet; null at all other times. */
  get dragged(): number[] | null {
    return this.state.name === 'dragging' && !holdsPivot(this.state.grip) ? this.state.points : null
  }

  /** What of the chosen part lies under the hand: a grip of the frame, a point, or the shape itself. */
  under({ x, y, k }: Hand): { traced: Traced; grip: Grip } | null {
    const traced = this.host.chosen()
    if (!traced || traced.locked) return null
    const around = this.host.frame()
    if (around) {
      const near = frameGrips.filter((grip) => {
        const [gx, gy] = gripPlace(around.frame, grip, hitRadii.turn / k)
        return Math.hypot(gx - x, gy - y) <= hitRadii.grip / k
      })
      if (near[0] !== undefined) return { traced, grip: { frame: near[0] } }
      // Within the frame the hand holds all that it holds, however close the points lie.
      const { left, top, right, bottom } = around.frame
      if (x > left && x < right && y > top && y < bottom) return { traced, grip: 'body' }
    }
    const point = this.pointUnder(traced, x, y, hitRadii.handle / k)
    if (point !== null) return { traced, grip: { point } }
    // A new outline begins anywhere else: limbs meet, and lie on each other.
    if (this.host.places()?.kind === 'outline') return null
    return onShape(traced, x, y, hitRadii.edge / k) ? { traced, grip: 'body' } : null
  }

  down(hand: Hand): void {
    const { x, y, k } = hand
    if (this.state.name === 'placing') return this.click(this.state.kind, x, y)
    if (this.state.name === 'outlining') return this.pressNode(hand)
    const kind = this.host.places()
    const found = this.under(hand)
    if (found) {
      const points = [...found.traced.points]
      const grip = hand.ctrl ? softOf(found.traced, found.grip) : found.grip
      this.state = { name: 'pressing', traced: found.traced, grip, from: { x, y }, points, add: hand.shift ?? false }
      return
    }
    if (kind?.kind === 'outline') {
      this.state = { name: 'stroking', stroke: [x, y] }
      return
    }
    if (kind) return this.click(kind, x, y)
    const other = this.host.others().find((traced) => onShape(traced, x, y, hitRadii.edge / k))
    if (other && !hand.shift && !hand.ctrl) return this.host.choose(other.id)
    this.state = { name: 'selecting', lasso: hand.ctrl ?? false, add: hand.shift ?? false, path: [x, y] }
  }

  move(hand: Hand): void {
    const { x, y, k } = hand
    const { state } = this
    switch (state.name) {
      case 'stroking':
        this.state = { ...state, stroke: [...state.stroke, x, y] }
        return
      case 'selecting':
        this.state = { ...state, path: state.lasso ? [...state.path, x, y] : [...state.path.slice(0, 2), x, y] }
        return
      case 'outlining':
        if (state.press && Math.hypot(x - state.press.x, y - state.press.y) * k > slack)
          this.state = { ...state, nodes: withHandle(state.nodes, x, y) }
        return
      case 'pressing':
        if (Math.hypot(x - state.from.x, y - state.from.y) * k <= slack) return
        // A point that is not among the chosen ones is dragged alone.
        if (typeof state.grip === 'object' && 'point' in state.grip) {
          const own = ownerOf(state.traced.kind, state.traced.points, state.grip.point)
          if (!this.host.selection().includes(own)) this.host.select([own])
        }
        this.state = { ...state, name: 'dragging' }
        break
      case 'dragging':
        break
      default:
        return
    }
    if (this.state.name === 'dragging') this.dragTo(this.state, hand)
  }

  private dragTo(state: State & { name: 'dragging' | 'pressing' }, { x, y, shift }: Hand): void {
    const { traced, grip, from } = state
    const { kind, points } = traced
    if (grip === 'body' || 'point' in grip) {
      const chosen = this.host.selection()
      if (grip === 'body') {
        const [dx, dy] = [x - from.x, y - from.y]
        const held = this.host.frame() && chosen.length > 1 ? chosen : anchors(kind, points)
        state.points = carriedBy(kind, points, held, (a, b) => [a + dx, b + dy])
      } else {
        const [px, py] = [points[2 * grip.point]!, points[2 * grip.point + 1]!]
        // The point keeps its distance from the hand, unless it goes to an edge.
        const edge = this.host.snapped(px + x - from.x, py + y - from.y)
        const [dx, dy] = [edge.x - px, edge.y - py]
        const many = chosen.length > 1 && anchors(kind, points).includes(grip.point)
        state.points = many
          ? carriedBy(kind, points, chosen, (a, b) => [a + dx, b + dy])
          : kind.moved(points, grip.point, px + dx, py + dy)
      }
    } else if (grip.frame === 'pivot') {
      this.host.setPivot(x, y)
      return
    } else {
      const around = this.host.frame()
      if (!around) return
      const chosen = this.host.selection().length ? this.host.selection() : anchors(kind, points)
      const map = frameMap(this.frameAtStart(state), grip.frame, around.sides, from, { x, y }, shift ?? false)
      state.points = carriedBy(kind, points, chosen, map)
    }
  }

  /** The frame as it stood when the drag began: it follows the draft, and the map must not. */
  private frameAtStart(state: object): SelectionFrame {
    if (this.started?.state !== state) this.started = { state, frame: { ...this.host.frame()!.frame } }
    return this.started.frame
  }
  private started: { state: object; frame: SelectionFrame } | null = null

  up(hand: Hand): void {
    const { x, y } = hand
    const { state } = this
    switch (state.name) {
      case 'stroking':
        return this.endStroke(state.stroke, hand)
      case 'selecting':
        this.state = { name: 'idle' }
        return this.selectWithin(state)
      case 'outlining':
        this.state = { ...state, press: null }
        return
      case 'dragging': {
        this.state = { name: 'idle' }
        if (!holdsPivot(state.grip)) this.host.reshape(state.points)
        return
      }
      case 'pressing': {
        this.state = { name: 'idle' }
        const kind = this.host.places()
        // While shapes are placed a click is always the next place: the ghost often lies where the prop still is.
        if (kind?.kind === 'outline') return this.beginOutline(nodeAt(x, y, [x, y], [x, y]))
        if (kind) return this.click(kind, x, y)
        if (state.grip === 'body') return state.add || this.host.frame() ? undefined : this.host.select([])
        if ('frame' in state.grip) return
        const { point } = state.grip
        const chosen = this.host.selection()
        if (!state.add) return this.host.select([point])
        return this.host.select(chosen.includes(point) ? chosen.filter((i) => i !== point) : [...chosen, point])
      }
    }
  }

  /** A second click on the edge of an outline makes a point there. */
  double({ x, y, k }: Hand): void {
    const traced = this.host.chosen()
    if (!traced || traced.kind.kind !== 'outline' || traced.locked || this.host.places()) return
    if (this.pointUnder(traced, x, y, hitRadii.handle / k) !== null) return
    const near = nearestOnOutline(traced.points, x, y)
    if (near.distance <= hitRadii.edge / k) this.host.insert(near.segment, near.t)
  }

  /** Closes the outline that is being drawn; false where none is. */
  finish(): boolean {
    if (this.state.name !== 'outlining') return false
    const { nodes } = this.state
    const count = nodes.length / nodeNumbers
    if (count < leastNodes) {
      const have = count === 1 ? say`has one` : say`has two`
      this.host.say(
        say`An outline needs at least ${leastNodes} points to close; this one ${have}. Click another place.`,
      )
      return true
    }
    this.state = { name: 'idle' }
    this.place('outline', nodes)
    return true
  }

  /** Takes the newest point back while an outline is drawn; false where none is. */
  takeBack(): boolean {
    if (this.state.name !== 'outlining') return false
    const nodes = this.state.nodes.slice(0, -nodeNumbers)
    this.state = nodes.length ? { name: 'outlining', nodes, press: null } : { name: 'idle' }
    return true
  }

  /** Leaves what was begun; nothing is written. Returns whether there was anything. */
  cancel(): boolean {
    const { state } = this
    this.state = { name: 'idle' }
    return state.name !== 'idle'
  }

  private pointUnder(traced: Traced, x: number, y: number, reach: number): number | null {
    const { kind, points } = traced
    const chosen = this.host.selection()
    const shown = shownHandles(kind, points, chosen)
    // Points before their levers, which often lie right beside them.
    const own = new Set(anchors(kind, points))
    return (
      nearest(
        points,
        shown.filter((i) => own.has(i)),
        x,
        y,
        reach,
      ) ??
      nearest(
        points,
        shown.filter((i) => !own.has(i)),
        x,
        y,
        reach,
      )
    )
  }

  private pressNode({ x, y, k }: Hand): void {
    if (this.state.name !== 'outlining') return
    const { nodes } = this.state
    if (Math.hypot(nodes[0]! - x, nodes[1]! - y) <= hitRadii.close / k) return void this.finish()
    this.state = { name: 'outlining', nodes: [...nodes, ...nodeAt(x, y, [x, y], [x, y])], press: { x, y } }
  }

  private endStroke(stroke: number[], { k }: Hand): void {
    const [x, y] = [stroke[0]!, stroke[1]!]
    let way = 0
    for (let i = 2; i < stroke.length; i += 2)
      way += Math.hypot(stroke[i]! - stroke[i - 2]!, stroke[i + 1]! - stroke[i - 1]!)
    // A stroke goes around something; a straight drag is the first point with its handle.
    if (way * k > strokeFrom && Math.abs(polygonArea(stroke)) > 0.02 * way * way) {
      const nodes = fitStroke(stroke, 1.6 / k)
      if (nodes) {
        this.state = { name: 'idle' }
        return this.place('outline', nodes)
      }
    }
    let nodes = nodeAt(x, y, [x, y], [x, y])
    if (way * k > slack) nodes = withHandle(nodes, stroke.at(-2)!, stroke.at(-1)!)
    this.beginOutline(nodes)
  }

  private beginOutline(nodes: number[]): void {
    this.state = { name: 'outlining', nodes, press: null }
  }

  private place(kind: string, points: number[]): void {
    const places = this.host.places()
    if (places?.kind === kind) this.host.place(places, points)
  }

  private selectWithin({ lasso, add, path }: State & { name: 'selecting' }): void {
    const traced = this.host.chosen()
    const before = add ? this.host.selection() : []
    if (!traced || path.length < 4) return this.host.select(before)
    const [x0, y0, x1, y1] = path as [number, number, number, number]
    const area = lasso ? path : [x0, y0, x1, y0, x1, y1, x0, y1]
    const within = anchors(traced.kind, traced.points).filter((i) =>
      isNear(area, traced.points[2 * i]!, traced.points[2 * i + 1]!, 0),
    )
    this.host.select([...new Set([...before, ...within])])
  }

  private click(kind: PartKind, x: number, y: number): void {
    const clicks = [...(this.state.name === 'placing' ? this.state.clicks : []), x, y]
    if (clicks.length < 2 * kind.placing.length) this.state = { name: 'placing', kind, clicks }
    else {
      this.state = { name: 'idle' }
      this.host.place(kind, kind.fromClicks(clicks))
    }
  }
}

const holdsPivot = (grip: Grip) => typeof grip === 'object' && 'frame' in grip && grip.frame === 'pivot'

/** Handles that are drawn and can be grabbed: all points, and of an outline the levers of the chosen ones. */
export function shownHandles(kind: PartKind, points: readonly number[], chosen: readonly number[]): number[] {
  const own = anchors(kind, points)
  const near = new Set(chosen.flatMap((i) => groupOf(kind, points, i)))
  return Array.from({ length: points.length / 2 }, (_, i) => i).filter(
    (i) =>
      own.includes(i) || (near.has(i) && !(kind.handleForm(points, i) === 'lever' && liesOnPoint(kind, points, i))),
  )
}
/** The point that a lever belongs to, and all of its levers. */
function groupOf(kind: PartKind, points: readonly number[], index: number): number[] {
  const owner = anchors(kind, points).findLast((i) => i <= index && kind.group(points, i).includes(index))
  return owner === undefined ? [index] : kind.group(points, owner)
}
function liesOnPoint(kind: PartKind, points: readonly number[], index: number): boolean {
  const owner = groupOf(kind, points, index)[0]!
  return Math.hypot(points[2 * index]! - points[2 * owner]!, points[2 * index + 1]! - points[2 * owner + 1]!) < 0.01
}

/** The point that a handle belongs to: itself, or the one whose lever it is. */
const ownerOf = (kind: PartKind, points: readonly number[], index: number) => groupOf(kind, points, index)[0]!

/** With Ctrl an outline's point gives the place where its edge has faded away, which lies on the point at first. */
function softOf({ kind, points }: Traced, grip: Grip): Grip {
  if (typeof grip !== 'object' || !('point' in grip) || kind.kind !== 'outline') return grip
  return { point: ownerOf(kind, points, grip.point) + 3 }
}

/** The newest node with its handle drawn out to (x, y) and the other one opposite. */
function withHandle(nodes: readonly number[], x: number, y: number): number[] {
  const out = [...nodes]
  const at = out.length - nodeNumbers
  const [px, py] = [out[at]!, out[at + 1]!]
  out.splice(at + 2, 4, 2 * px - x, 2 * py - y, x, y)
  return out
}

function nearest(points: readonly number[], of: readonly number[], x: number, y: number, reach: number): number | null {
  let best: number | null = null
  let least = reach
  for (const i of of) {
    const distance = Math.hypot(points[2 * i]! - x, points[2 * i + 1]! - y)
    if (distance <= least) {
      least = distance
      best = i
    }
  }
  return best
}

/** Whether a place lies inside the shape's edge or within `reach` of it. */
export const onShape = ({ kind, points, settings }: Traced, x: number, y: number, reach: number): boolean =>
  isNear(flatten(kind.path(points, settings), 1), x, y, reach)
