import { boundsOf } from '../geometry/rect.ts'
import { anchors, type PartKind } from '../shapes/kind.ts'
import { bilinear, type FollowPicture, type Piece, pieceOf } from './frame.ts'

/*
 * A limb bends as it goes: once the region as a whole is found, each point of its outline may go to the edge that it lay
 * on. What is looked for is the brightness across that edge as it was on the key's frame, so that no error adds up.
 */

/** Plate pixels of the edge's surroundings that are compared, to each side. */
const reach = 6
/** What a pixel off the region's own motion costs, squared, in levels: noise alone moves no point. */
const stays = 1.2
/** Levels of difference beyond which a place is taken to be covered. */
const most = 30

/** The outline's points each let go to their edge. Made on the key's frame, asked on every other one. */
export class EdgeFollower {
  private readonly kind: PartKind
  private readonly own: number[]
  private readonly profiles: (Float32Array | null)[]

  constructor(picture: FollowPicture, kind: PartKind, points: readonly number[]) {
    this.kind = kind
    this.own = anchors(kind, points)
    const piece = pieceOf(picture, boundsOf(points, reach + 4), 0)
    this.profiles = this.own.map((_, k) => piece && profileOf(piece, points, this.own, k, 0))
  }

  /** The points after each went to its edge, at most `room` plate pixels along the edge's normal. */
  settled(picture: FollowPicture, points: readonly number[], room: number): number[] {
    const piece = pieceOf(picture, boundsOf(points, reach + room + 4), 0)
    if (!piece || room <= 0) return [...points]
    const shifts = this.own.map((_, k) => this.shiftOf(piece, points, k, room))
    const n = shifts.length
    // Neighbours go along with each other: one point that jumped to another edge is outvoted.
    const even = shifts.map((shift, k) => {
      const near = [shifts[(k + n - 1) % n]!, shift, shifts[(k + 1) % n]!].sort((a, b) => a - b)
      return 0.5 * near[1]! + 0.5 * shift
    })
    let out = [...points]
    this.own.forEach((index, k) => {
      const [nx, ny] = normalAt(points, this.own, k)
      out = this.kind.moved(out, index, points[2 * index]! + even[k]! * nx, points[2 * index + 1]! + even[k]! * ny)
    })
    return out
  }

  private shiftOf(piece: Piece, points: readonly number[], k: number, room: number): number {
    const reference = this.profiles[k]
    if (!reference) return 0
    const step = 0.5
    const count = Math.round(room / step)
    const costs = Array.from({ length: 2 * count + 1 }, (_, i) => {
      const by = (i - count) * step
      const here = profileOf(piece, points, this.own, k, by)
      return here ? unlike(reference, here) + stays * by * by : Infinity
    })
    let best = count
    costs.forEach((cost, i) => {
      if (cost < costs[best]!) best = i
    })
    if (!(costs[best]! < most * most)) return 0
    // The bottom of the parabola through the neighbours.
    const [a, b, c] = [costs[best - 1] ?? Infinity, costs[best]!, costs[best + 1] ?? Infinity]
    const down = a - 2 * b + c
    const off = Number.isFinite(down) && down > 1e-6 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / down)) : 0
    return (best - count + off) * step
  }
}

/** Unit normal of the outline at its kth point, from its neighbours. */
function normalAt(points: readonly number[], own: readonly number[], k: number): [number, number] {
  const n = own.length
  const [a, b] = [own[(k + n - 1) % n]!, own[(k + 1) % n]!]
  const [dx, dy] = [points[2 * b]! - points[2 * a]!, points[2 * b + 1]! - points[2 * a + 1]!]
  const length = Math.hypot(dx, dy)
  return length > 1e-6 ? [dy / length, -dx / length] : [0, 0]
}

/** Brightness across the edge at the kth point, shifted by so much along the normal; null where it leaves the piece. */
function profileOf(piece: Piece, points: readonly number[], own: readonly number[], k: number, by: number) {
  const [nx, ny] = normalAt(points, own, k)
  const index = own[k]!
  const out = new Float32Array(2 * reach + 1)
  for (let i = -reach; i <= reach; i++) {
    const px = points[2 * index]! + (by + i) * nx - piece.x - 0.5
    const py = points[2 * index + 1]! + (by + i) * ny - piece.y - 0.5
    if (!(px >= 0 && py >= 0 && px < piece.width - 1 && py < piece.height - 1)) return null
    const [ix, iy] = [px | 0, py | 0]
    out[i + reach] = bilinear(piece.data, iy * piece.width + ix, piece.width, px - ix, py - iy)
  }
  return out
}

/** Mean squared difference of two profiles after the change of light between them (their means), in levels squared. */
function unlike(a: Float32Array, b: Float32Array): number {
  let [ma, mb] = [0, 0]
  for (let i = 0; i < a.length; i++) {
    ma += a[i]! / a.length
    mb += b[i]! / a.length
  }
  let sum = 0
  for (let i = 0; i < a.length; i++) sum += (a[i]! - ma - (b[i]! - mb)) ** 2
  return sum / a.length
}
