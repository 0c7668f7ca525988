import { type Flow, flowAt, flowOf } from '../painting/flow.ts'
import { i420Layout, type Yuv } from '../pixels/buffers/yuv.ts'
import type { Between } from '../records/types.ts'
import { bilinear, type FollowPicture, followPicture } from '../tracking/frame.ts'

/*
 * Frames between two of a clip: both over each other, or both moved towards each other along their optical flow, each from its
 * own side (as in Herbst, Seitz and Baker, "Occlusion Reasoning for Temporal Interpolation Using Optical Flow", 2009).
 */

type Room = (bytes: number) => Uint8Array
const plain: Room = (bytes) => new Uint8Array(bytes)

/** How the picture moves from one frame to the next, and from that one back, in pixels as they are coded. */
export interface PairFlow {
  there: Flow
  back: Flow
}

/**
 * Pixels of the last level of the flow's pyramid, at most. Of filmed clips with every second frame left out, what is made at a
 * quarter of the size is nearly as near to that frame as what is made at half of it, in a quarter of the time.
 */
const finestPixels = 130_000

export function pairFlow(one: Yuv, other: Yuv): PairFlow {
  const [a, b] = [asCoded(one), asCoded(other)]
  const box = { x: 0, y: 0, width: one.width, height: one.height }
  let finest = 1
  while ((one.width * one.height) / 4 ** finest > finestPixels) finest++
  return { there: flowOf(a, b, null, box, null, finest), back: flowOf(b, a, null, box, null, finest) }
}

/**
 * What lies a share (0..1) of the way from one frame to the next of the same size. `flow`, where it is known already: it is asked
 * for where frames are moved only. `room` gives the bytes of its planes.
 */
export function frameBetween(
  [one, other]: readonly [Yuv, Yuv],
  share: number,
  between: Between,
  flow: () => PairFlow = () => pairFlow(one, other),
  room: Room = plain,
): Yuv {
  if (between === 'repeated' || one.width !== other.width || one.height !== other.height) return share < 1 ? one : other
  const ways = between === 'moved' ? waysAt(asCoded(one), asCoded(other), share, flow()) : null
  const { width, height, matrix, range, rotation } = one
  const { bytes, planes } = i420Layout(width, height)
  const out: Yuv = { data: room(bytes), width, height, planes, matrix, range, rotation }
  for (const [i, { offset, stride }] of planes.entries()) {
    const size = i ? { width: (width + 1) >> 1, height: (height + 1) >> 1 } : { width, height }
    const plane = ({ data, planes: from }: Yuv): Samples => ({
      ...{ data: data.subarray(from[i]!.offset), stride: from[i]!.stride, channels: 1 },
      ...size,
    })
    const to = { data: out.data.subarray(offset), stride, channels: 1, ...size }
    mix(plane(one), plane(other), to, share, ways, i ? 2 : 1)
  }
  const whole = (data: Uint8Array | Float32Array): Samples => ({
    ...{ data, stride: 4 * width, channels: 4, width, height },
  })
  if (one.rgba && other.rgba) {
    out.rgba = room(4 * width * height)
    mix(whole(one.rgba), whole(other.rgba), whole(out.rgba), share, ways, 1)
  }
  if (one.light && other.light) {
    const { buffer, byteOffset } = room(16 * width * height)
    out.light = new Float32Array(buffer, byteOffset, 4 * width * height)
    mix(whole(one.light), whole(other.light), whole(out.light), share, ways, 1)
  }
  return out
}

const asCoded = (yuv: Yuv): FollowPicture => followPicture({ ...yuv, rotation: 0 })

/** Numbers in rows, `channels` to a pixel. */
interface Samples {
  data: Uint8Array | Float32Array
  stride: number
  channels: number
  width: number
  height: number
}

/** On a lattice: how what is there then moves from frame to frame, and the share of the second frame in it. */
interface Ways extends Flow {
  share: Float32Array
}

/** Levels by which both frames may differ along a motion for it to be believed. */
const alike = 10

/** Motions through every node at a share of the way: of the two that the flows tell the one along which both frames look alike. */
function waysAt(a: FollowPicture, b: FollowPicture, share: number, { there, back }: PairFlow): Ways {
  const { x, y, step, columns, rows } = there
  const [u, v, of] = [0, 1, 2].map(() => new Float32Array(columns * rows)) as [Float32Array, Float32Array, Float32Array]
  for (let j = 0, n = 0; j < rows; j++)
    for (let i = 0; i < columns; i++, n++) {
      const [px, py] = [x + i * step, y + j * step]
      const first = arriving(there, px, py, share)
      const [bu, bv] = arriving(back, px, py, 1 - share)
      const second = [-bu, -bv] as const
      const [one, other] = [first, second].map(([mu, mv]) => unlike(a, b, px, py, mu, mv, share, step / 2)) as [
        number,
        number,
      ]
      const [best, off] = one <= other ? [first, one] : [second, other]
      u[n] = best[0]
      v[n] = best[1]
      // Where they do not look alike something is covered in one of them: the nearer one is shown alone.
      const both = Math.max(0, Math.min(1, 2 - off / alike))
      of[n] = share * both + (share < 0.5 ? 0 : 1) * (1 - both)
    }
  return { ...there, u, v, share: of }
}

/** The motion of what arrives at a place after a share of it, by walking back. */
function arriving(flow: Flow, x: number, y: number, share: number): [number, number] {
  let [u, v] = flowAt(flow, x, y)
  for (let turn = 0; turn < 4; turn++) [u, v] = flowAt(flow, x - share * u, y - share * v)
  return [u, v]
}

/** Mean difference of brightness of both frames along a motion, around a place; large where it leaves them. */
function unlike(
  a: FollowPicture,
  b: FollowPicture,
  x: number,
  y: number,
  u: number,
  v: number,
  share: number,
  half: number,
): number {
  let [sum, count] = [0, 0]
  const by = Math.max(1, half / 3)
  for (let dy = -half; dy <= half; dy += by)
    for (let dx = -half; dx <= half; dx += by) {
      const one = lumaAt(a, x + dx - share * u, y + dy - share * v)
      const other = lumaAt(b, x + dx + (1 - share) * u, y + dy + (1 - share) * v)
      if (one < 0 || other < 0) continue
      sum += Math.abs(one - other)
      count++
    }
  return count ? sum / count : 255
}

function lumaAt({ luma, width, height }: FollowPicture, x: number, y: number): number {
  const [px, py] = [x - 0.5, y - 0.5]
  if (!(px >= 0 && py >= 0 && px < width - 1 && py < height - 1)) return -1
  const [ix, iy] = [px | 0, py | 0]
  return bilinear(luma, iy * width + ix, width, px - ix, py - iy)
}

/** Both over each other, along `ways` where these are given; `reduce` pixels of the picture to one of these. */
function mix(one: Samples, other: Samples, out: Samples, share: number, ways: Ways | null, reduce: number): void {
  const { width, height, channels } = out
  const round = out.data instanceof Uint8Array ? 0.5 : 0
  for (let y = 0; y < height; y++) {
    const [from, to, at] = [y * one.stride, y * other.stride, y * out.stride]
    if (!ways) {
      for (let i = 0; i < width * channels; i++) {
        const value = one.data[from + i]!
        out.data[at + i] = value + (other.data[to + i]! - value) * share + round
      }
      continue
    }
    const { step, columns, rows, u, v } = ways
    const gy = Math.max(0, Math.min(rows - 1.0001, ((y + 0.5) * reduce - ways.y) / step))
    const t = gy - (gy | 0)
    for (let x = 0; x < width; x++) {
      const gx = Math.max(0, Math.min(columns - 1.0001, ((x + 0.5) * reduce - ways.x) / step))
      const node = (gy | 0) * columns + (gx | 0)
      const s = gx - (gx | 0)
      const mu = bilinear(u, node, columns, s, t) / reduce
      const mv = bilinear(v, node, columns, s, t) / reduce
      const of = bilinear(ways.share, node, columns, s, t)
      for (let c = 0; c < channels; c++) {
        const a = sampled(one, x - share * mu, y - share * mv, c)
        const b = sampled(other, x + (1 - share) * mu, y + (1 - share) * mv, c)
        out.data[at + x * channels + c] = a + (b - a) * of + round
      }
    }
  }
}

/** A value between pixels; beyond the picture that of its rim. */
function sampled({ data, stride, channels, width, height }: Samples, x: number, y: number, c: number): number {
  const px = x < 0 ? 0 : x > width - 1.001 ? width - 1.001 : x
  const py = y < 0 ? 0 : y > height - 1.001 ? height - 1.001 : y
  const [ix, iy] = [px | 0, py | 0]
  const at = iy * stride + ix * channels + c
  const [s, t] = [px - ix, py - iy]
  const [right, down] = [width > 1 ? channels : 0, height > 1 ? stride : 0]
  const top = data[at]! + (data[at + right]! - data[at]!) * s
  const low = data[at + down]! + (data[at + down + right]! - data[at + down]!) * s
  return top + (low - top) * t
}

/** Of a clip's frames, those between two of them; the flows of the last few pairs are kept, as all between two want the same. */
export class FramesBetween {
  private readonly flows = new Map<number, PairFlow>()

  /** What lies at a place of the clip that is no whole number. `get` gives its frames. */
  async at(place: number, between: Between, get: (frame: number) => Promise<Yuv>, room: Room = plain): Promise<Yuv> {
    const first = Math.floor(place)
    const pair = await Promise.all([get(first), get(first + 1)])
    const flow = () => {
      let known = this.flows.get(first)
      if (!known) {
        known = pairFlow(...pair)
        if (this.flows.size >= 4) this.flows.delete(this.flows.keys().next().value!)
        this.flows.set(first, known)
      }
      return known
    }
    return frameBetween(pair, place - first, between, flow, room)
  }
}
