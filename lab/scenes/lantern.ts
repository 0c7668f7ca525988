import { to8Bit } from '#core/pixels/colour/transfer.ts'
import { canvas, clamp, cloud, fill, mix, nodesThrough, placed, polygonOf, type Rgb, smooth } from './paint.ts'

/** A paper lantern as pictures with alpha: a still, and a sequence of it swaying about its hook. */
export const lanternSize = { width: 256, height: 384 }
/** Pictures of one swing to and fro, begun and ended in the middle. */
export const swayFrames = 12

const hook = { x: 128, y: 18 }
/** The paper's middle and half-size, before any turn. */
const paper = { x: 128, y: 196, wide: 84, high: 112 }

/** Turn of the swaying lantern in radians, clockwise on screen. */
export const turnAt = (frame: number): number => 0.2 * Math.sin((2 * Math.PI * frame) / swayFrames)

/** Corners of the box around the paper, from the top left clockwise, in pixels. */
export function lanternCorners(turn: number): number[] {
  const { x, y, wide, high } = paper
  return turned([x - wide, y - high, x + wide, y - high, x + wide, y + high, x - wide, y + high], turn)
}

const turned = (points: number[], turn: number): number[] =>
  placed(
    points.map((v, i) => v - (i % 2 ? hook.y : hook.x)),
    ...([hook.x, hook.y, turn] as const),
  )

/** The lantern turned about its hook, as RGBA bytes with straight alpha. */
export function lantern(turn: number): Uint8Array {
  const { width, height } = lanternSize
  const target = canvas(width, height)
  const { x, y, wide, high } = paper
  const back = (px: number, py: number) => {
    const [c, s] = [Math.cos(-turn), Math.sin(-turn)]
    const [dx, dy] = [px - hook.x, py - hook.y]
    return { x: hook.x + c * dx - s * dy, y: hook.y + s * dx + c * dy }
  }
  const draw = (points: number[], shade: (x: number, y: number) => Rgb, opacity = 1) =>
    fill(target, turned(points, turn), (px, py) => shade(back(px, py).x, back(px, py).y), opacity)
  const bar = (cx: number, cy: number, w: number, h: number) => [
    cx - w,
    cy - h,
    cx + w,
    cy - h,
    cx + w,
    cy + h,
    cx - w,
    cy + h,
  ]
  const wood = (px: number, py: number): Rgb => {
    const v = 0.03 + 0.03 * cloud(px / 5, py / 22, 9)
    return [v, v * 0.8, v * 0.6]
  }
  draw(bar(x, 48, 1.6, 34), wood)
  const barrel = nodesThrough(
    [-1, -0.72, 0, 0.72, 1, 0.72, 0, -0.72].flatMap((u, i) => {
      const v = [0, -0.72, -1, -0.72, 0, 0.72, 1, 0.72][i]!
      return [x + wide * Math.sign(u) * Math.abs(u) ** 0.8, y + high * v]
    }),
  )
  draw(polygonOf(barrel), (px, py) => {
    const [u, v] = [(px - x) / wide, (py - y) / high]
    // The flame stands low inside; paper is brightest there and darker where it turns away.
    const flame = Math.exp(-(u * u * 1.6 + (v - 0.28) ** 2 * 1.9))
    const rib = 1 - 0.35 * smooth(0.86, 1, Math.cos(v * 33) * 0.5 + 0.5)
    const grain = 0.86 + 0.28 * cloud(px / 9, py / 14, 4)
    const light = clamp(mix(0.16, 1.05, flame) * rib * grain * (1 - 0.35 * u * u), 0, 1)
    return [light, light * mix(0.34, 0.66, flame), light * mix(0.08, 0.26, flame)]
  })
  for (const [cy, w, h] of [
    [y - high, 42, 8],
    [y + high, 42, 8],
    [y + high + 12, 10, 6],
  ] as const)
    draw(bar(x, cy, w, h), wood)
  for (let i = -3; i <= 3; i++)
    draw(bar(x + 3 * i, y + high + 34 - Math.abs(i), 1.1, 18 - Math.abs(i)), (_, py) => {
      const v = mix(0.16, 0.05, (py - y - high) / 60)
      return [v, v * 0.25, v * 0.12]
    })
  const out = new Uint8Array(4 * width * height)
  for (let i = 0; i < out.length; i += 4) {
    const alpha = target.data[i + 3]!
    for (let c = 0; c < 3; c++) out[i + c] = alpha > 0 ? to8Bit(target.data[i + c]! / alpha) : 0
    out[i + 3] = Math.round(255 * alpha)
  }
  return out
}
