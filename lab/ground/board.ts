import { fromUnitSquare, inverseOf, mapped, mappedAll } from '#core/geometry/projective.ts'
import { boundsOf, intersect } from '#core/geometry/rect.ts'
import { hashed, noise2 } from '#core/pixels/filters/noise.ts'
import { Chance } from '../support/chance.ts'
import { backclothOf } from './backgrounds.ts'
import { type Case, groundSize } from './cases.ts'
import { behind, develop, room, toLight } from './compose.ts'
import { performed } from './perform.ts'

/** What is known of a board on a frame, at the middle of the shutter: its corners in order around it, px of the frame. */
export type BoardTruth = number[]

/** Moments of the open shutter that are drawn. */
const moments = 6
/** Distance of the eye, in px, that makes the perspective. */
const eye = 1100

/** A printed board that is turned and carried through the picture before a case's background. */
export function boardComposed(of: Case): { rgb: Uint8Array; truth: BoardTruth[] } {
  const { width, height } = groundSize
  const backcloth = backclothOf(of.background, of.start, of.frames, {
    ...{ width: width + 2 * room.x, height: height + 2 * room.y },
  })
  const camera = performed(of)
  const corners = boardOf(of)
  const print = printed(of.seed)
  const rgb = new Uint8Array(3 * width * height * of.frames)
  const truth: BoardTruth[] = []
  const open = of.shutter / 360
  for (let f = 0; f < of.frames; f++) {
    const light = behind(backcloth, Math.min(f, backcloth.frames.length - 1), camera(f).camera)
    const places = Array.from({ length: moments }, (_, k) => corners(f + open * ((k + 0.5) / moments - 0.5)))
    lay(light, places, print)
    develop(light, rgb.subarray(3 * width * height * f), of, f)
    truth.push(corners(f))
  }
  return { rgb, truth }
}

/** Where the corners of the board are at a time. */
function boardOf(of: Case): (time: number) => number[] {
  const chance = new Chance(of.seed * 31 + 5)
  const [wide, high] = [chance.between(180, 340), chance.between(120, 240)]
  const wave = (size: number) => {
    const [period, phase, off] = [chance.between(40, 90), chance.between(0, 6.28), chance.between(-0.2, 0.2)]
    return (time: number) => size * (off + Math.sin((2 * Math.PI * time) / period + phase))
  }
  const [yaw, pitch, roll] = [wave(0.7), wave(0.45), wave(0.35)]
  const [dx, dy, dz] = [wave(220), wave(90), wave(220)]
  return (time) => {
    const [a, b, c] = [yaw(time), pitch(time), roll(time)]
    return [
      [-1, -1],
      [1, -1],
      [1, 1],
      [-1, 1],
    ].flatMap(([u, v]) => {
      const [x, y] = [(u! * wide) / 2, (v! * high) / 2]
      const [rx, ry] = [Math.cos(c) * x - Math.sin(c) * y, Math.sin(c) * x + Math.cos(c) * y]
      const depth = rx * Math.sin(a) + ry * Math.sin(b) + dz(time)
      const by = eye / (eye + depth)
      return [
        groundSize.width / 2 + dx(time) + by * rx * Math.cos(a),
        groundSize.height / 2 + dy(time) + by * ry * Math.cos(b),
      ]
    })
  }
}

/** What is printed on it: paper, a frame, blocks of colour and lines as of writing; linear light by place, 0 to 1. */
function printed(seed: number): (u: number, v: number) => readonly [number, number, number] {
  const chance = new Chance(seed * 13 + 1)
  const colour = () => [0, 1, 2].map(() => toLight[chance.below(230)]!) as [number, number, number]
  const blocks = Array.from({ length: 7 }, () => ({
    ...{
      x: chance.between(0.05, 0.7),
      y: chance.between(0.05, 0.7),
      w: chance.between(0.08, 0.3),
      h: chance.between(0.08, 0.3),
    },
    colour: colour(),
  }))
  const paper = [0.62, 0.6, 0.54] as const
  return (u, v) => {
    const block = blocks.find((one) => u > one.x && v > one.y && u < one.x + one.w && v < one.y + one.h)
    const written = v * 24 - Math.floor(v * 24) < 0.45 && hashed(Math.floor(u * 60), Math.floor(v * 24), seed) > 0.45
    const rim = Math.min(u, v, 1 - u, 1 - v) < 0.03
    const base = rim
      ? ([0.05, 0.05, 0.06] as const)
      : (block?.colour ?? (written ? ([0.1, 0.1, 0.12] as const) : paper))
    const by = 0.85 + 0.3 * noise2(u * 9, v * 7, seed)
    return [base[0] * by, base[1] * by, base[2] * by]
  }
}

function lay(light: Float32Array, places: readonly number[][], print: ReturnType<typeof printed>): void {
  const { width, height } = groundSize
  const box = intersect(boundsOf(places.flat(), 2), { x: 0, y: 0, width, height })
  const maps = places.map((corners) => inverseOf(fromUnitSquare(corners)!)!)
  for (let y = box.y; y < box.y + box.height; y++)
    for (let x = box.x; x < box.x + box.width; x++) {
      const sum = [0, 0, 0]
      let covered = 0
      for (const map of maps)
        for (const [sx, sy] of within) {
          const [u, v] = mapped(map, x + sx, y + sy)
          if (!(u >= 0 && v >= 0 && u < 1 && v < 1)) continue
          const ink = print(u, v)
          for (let k = 0; k < 3; k++) sum[k]! += ink[k]!
          covered++
        }
      if (covered === 0) continue
      const all = within.length * maps.length
      const at = 3 * (y * width + x)
      for (let k = 0; k < 3; k++) light[at + k] = (sum[k]! + (all - covered) * light[at + k]!) / all
    }
}
/** Places within a pixel that are looked at. */
const within = [
  [0.25, 0.25],
  [0.75, 0.25],
  [0.25, 0.75],
  [0.75, 0.75],
] as const

/** Shapes on a board, told by their places on it (0 to 1), where its corners are. */
export const onBoard = (corners: BoardTruth, places: readonly number[]): number[] =>
  mappedAll(fromUnitSquare(corners)!, places)
