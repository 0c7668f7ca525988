import { ffmpeg } from './ffmpeg.ts'

/** Places of a drawn hand in pixels: the wrist, then thumb to little finger, four places each from its root out. */
export const handPlaces: [number, number][] = [
  [330, 560],
  ...([
    [255, 520],
    [205, 455],
    [170, 400],
    [140, 350],
  ] as [number, number][]),
  ...([
    [270, 350],
    [258, 265],
    [252, 210],
    [248, 160],
  ] as [number, number][]),
  ...([
    [325, 335],
    [325, 240],
    [325, 180],
    [325, 125],
  ] as [number, number][]),
  ...([
    [378, 345],
    [388, 260],
    [393, 205],
    [396, 155],
  ] as [number, number][]),
  ...([
    [425, 375],
    [448, 312],
    [461, 272],
    [472, 232],
  ] as [number, number][]),
]
const side = 640

/** Bones as cones: from which place to which, and how thick at either. */
const bones: { from: [number, number]; to: [number, number]; thick: [number, number] }[] = [
  ...[1, 5, 9, 13, 17].flatMap((root) =>
    [0, 1, 2].map((k) => {
      const thick = root === 1 ? 30 : 26
      const [from, to] = [handPlaces[root + k]!, handPlaces[root + k + 1]!]
      return { from, to, thick: [thick - 3 * k, thick - 3 * k - 3] as [number, number] }
    }),
  ),
  ...[5, 9, 13, 17].map((root) => ({
    ...{ from: handPlaces[0]!, to: handPlaces[root]!, thick: [58, 34] as [number, number] },
  })),
  { from: handPlaces[0]!, to: handPlaces[1]!, thick: [50, 38] },
  { from: handPlaces[0]!, to: [340, 700], thick: [52, 52] },
]

/** How far a place stands out of the hand's plane, 0 to 1; 0 beside it. */
function height(x: number, y: number): number {
  let most = 0
  for (const { from, to, thick } of bones) {
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]]
    const t = Math.max(0, Math.min(1, ((x - from[0]) * dx + (y - from[1]) * dy) / (dx * dx + dy * dy)))
    const radius = thick[0] + (thick[1] - thick[0]) * t
    const away = Math.hypot(x - from[0] - t * dx, y - from[1] - t * dy) / radius
    if (away < 1) most = Math.max(most, Math.sqrt(1 - away * away))
  }
  return most
}

/** A still clip of a drawn open hand, shaded like skin, on a soft blue ground. */
export function makeHand(file: string): void {
  const data = new Uint8Array(side * side * 3)
  for (let y = 0, at = 0; y < side; y++)
    for (let x = 0; x < side; x++, at += 3) {
      const high = height(x + 0.5, y + 0.5)
      const ground = 120 + 30 * Math.sin(x / 90) + 20 * Math.sin(y / 70)
      const light = 0.55 + 0.45 * high
      data.set(high ? [232 * light, 182 * light, 152 * light] : [0.75 * ground, 0.85 * ground, ground], at)
    }
  ffmpeg(
    [
      ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', `${side}x${side}`, '-r', '24'],
      ...['-i', '-', '-vf', 'loop=11:1,format=yuv420p', '-c:v', 'libx264', '-crf', '14', file],
    ],
    data,
  )
}
