import { hashed } from '#core/pixels/filters/noise.ts'
import { marsh } from './marsh.ts'
import {
  cloud,
  defocused,
  fill,
  mix,
  nodesThrough,
  noise,
  once,
  polygonOf,
  type Rgb,
  smooth,
  through,
} from './paint.ts'
import type { Scene } from './scene.ts'

const degrees = Math.PI / 180

interface MaskPose {
  x: number
  y: number
  /** Radians: clockwise on screen. */
  tilt: number
  /** -1 to 1: looking to the left and right. */
  turn: number
  nod: number
  /** 1 open, 0 shut. */
  lids: number
}

/** Grain of carved wood with cuts like feathers, lit from the right. */
function wood(local: (x: number, y: number) => [number, number], tone: Rgb, seed: number, rounding: number) {
  return (px: number, py: number): Rgb => {
    const [u, v] = local(px, py)
    const grain = 0.72 + 0.5 * cloud(u / 9, v / 110, seed, 4)
    const cut = Math.abs(((v + 26 * Math.abs(Math.sin(u / 34)) + 900) % 38) - 19) < 1.6 ? 0.5 : 1
    const chips = 0.88 + 0.24 * noise(u / 2.2, v / 2.2, seed + 5)
    const round = mix(0.45, 1.25, smooth(-rounding, rounding * 0.7, u)) * mix(1, 0.6, smooth(0, rounding * 1.7, v))
    const k = grain * cut * chips * round
    return [tone[0] * k, tone[1] * k, tone[2] * k]
  }
}

/** Close view of a carved heron mask that turns, tilts and nods; two eyes and one short blink. */
export const heronMask: Scene = {
  name: 'Heron mask',
  file: 'heron-mask.mp4',
  frames: 72,
  thumbnail: 40,
  codec: 'h264',
  sound: false,
  perform(seed) {
    const vary = (k: number, amount: number) => (seed === 1 ? 0 : (hashed(seed, k) - 0.5) * 2 * amount)
    const blink = 44 + Math.round(vary(1, 6))
    const key = (list: [number, number][]) => (t: number) => through(list, t)
    const tilt = key([
      [-4, -4],
      [16 + vary(2, 3), -11 + vary(3, 4)],
      [38 + vary(4, 3), 14 + vary(5, 4)],
      [58, 6 + vary(6, 5)],
      [76, -3],
    ])
    const turn = key([
      [-4, -0.7],
      [20 + vary(7, 3), -0.5],
      [42 + vary(8, 3), 0.55 + vary(9, 0.15)],
      [76, 0.1],
    ])
    const nod = key([
      [-4, 0],
      [12, 0.25],
      [30 + vary(10, 3), -0.3],
      [54, 0.4 + vary(11, 0.15)],
      [76, 0],
    ])
    const lids = key([
      [blink - 4, 1],
      [blink, 0.06],
      [blink + 1, 0.06],
      [blink + 5, 1],
    ])
    return {
      background: once(() => defocused(marsh(seed + 11), 7)),
      contacts: [],
      at(t) {
        const pose: MaskPose = {
          x: 640 + 46 * turn(t) + 4 * Math.sin(t / 11),
          y: 372 + 34 * nod(t),
          tilt: tilt(t) * degrees,
          turn: turn(t),
          nod: nod(t),
          lids: lids(t),
        }
        return posed(pose, seed)
      },
    }
  },
}

function posed({ x, y, tilt, turn, nod, lids }: MaskPose, seed: number) {
  const [c, s] = [Math.cos(tilt), Math.sin(tilt)]
  const wide = 1 - 0.16 * turn * turn
  /** From the mask's own surface, `depth` in front of its middle, to the picture. */
  const out = (u: number, v: number, depth: number): [number, number] => {
    const [a, b] = [u * wide + turn * depth, v * (1 - 0.06 * nod * nod) + nod * depth * 0.6]
    return [x + c * a - s * b, y + s * a + c * b]
  }
  const inward =
    (depth: number) =>
    (px: number, py: number): [number, number] => {
      const [dx, dy] = [px - x, py - y]
      return [(c * dx + s * dy - turn * depth) / wide, -s * dx + c * dy - nod * depth * 0.6]
    }
  const through2 = (places: number[], depth: number) =>
    nodesThrough(places.flatMap((_, i) => (i % 2 ? [] : out(places[i]!, places[i + 1]!, depth))))
  const face = [
    0, -250, 92, -226, 158, -140, 172, -30, 140, 84, 84, 176, 0, 226, -84, 176, -140, 84, -172, -30, -158, -140, -92,
    -226,
  ]
  const brow = [
    -150, -86, -96, -120, -30, -92, 0, -70, 30, -92, 96, -120, 150, -86, 92, -66, 34, -48, 0, -30, -34, -48, -92, -66,
  ]
  const beak = [-34, -28, 0, -44, 34, -28, 40, 60, 26, 190, 6, 318, -6, 318, -26, 190, -40, 60]
  const eye = (side: number) => {
    const [ox, oy] = [side * 82, -26]
    const open = 26 * lids
    return [
      ox - 46,
      oy + 4,
      ox - 22,
      oy - open,
      ox + 8,
      oy - open * 1.08,
      ox + 44,
      oy - 4,
      ox + 18,
      oy + open * 0.86,
      ox - 18,
      oy + open * 0.9,
    ]
  }
  const shapes = [
    { name: 'mask', nodes: through2(face, 0), shade: wood(inward(0), [0.17, 0.12, 0.075], seed + 3, 170) },
    { name: 'brow', nodes: through2(brow, 34), shade: wood(inward(34), [0.12, 0.082, 0.05], seed + 6, 150) },
    ...([-1, 1] as const).map((side) => ({
      name: side < 0 ? 'left eye' : 'right eye',
      nodes: through2(eye(side), 18),
      shade: (px: number, py: number): Rgb => {
        const [u, v] = inward(18)(px, py)
        const ring = Math.hypot(u - side * 82, (v + 26) * 1.25)
        const glint = Math.hypot(u - side * 82 - 7, v + 33) < 4.5 ? 0.6 : 0
        const k = ring < 11 ? 0.008 : 0.2 + 0.08 * noise(px / 3, py / 3, seed)
        return [k * 1.5 + glint, k * 1.15 + glint, k * 0.5 + glint]
      },
    })),
    { name: 'beak', nodes: through2(beak, 74), shade: wood(inward(74), [0.25, 0.19, 0.09], seed + 9, 46) },
  ]
  return {
    draw: (target: Parameters<typeof fill>[0]) =>
      shapes.forEach((shape) => fill(target, polygonOf(shape.nodes), shape.shade)),
    rods: [],
    outlines: shapes.map(({ name, nodes }) => ({ name, figure: 'Heron', nodes })),
  }
}
