import { describe, expect, it } from 'vitest'
import { pictureOf, texture } from '#lab/support/textures.ts'
import type { Projective } from '../geometry/projective.ts'
import { Refusal } from '../refusal.ts'
import { cleanPlate, type PlateTask } from './cleanPlate.ts'
import type { FollowPicture } from './frame.ts'

const [width, height, length] = [240, 136, 24]
const behind = texture(5)
/** The camera pans, and turns a little. */
const camera = (frame: number): Projective => {
  const angle = 0.002 * frame
  const [a, b] = [Math.cos(angle), Math.sin(angle)]
  return [a, -b, -2.5 * frame, b, a, 0.6 * frame, 0, 0, 1]
}
/** Somebody of one brightness who hardly moves against the picture: a disc of 22 pixels. */
const place = (frame: number) => [120 + 0.4 * frame, 70] as const
const radius = 22
const within = (frame: number, x: number, y: number, by = 0) => {
  const [cx, cy] = place(frame)
  return Math.hypot(x + 0.5 - cx, y + 0.5 - cy) < radius + by
}
const frames = new Map<number, FollowPicture>()
function filmed(frame: number): FollowPicture {
  const known = frames.get(frame)
  if (known) return known
  const picture = pictureOf(width, height, behind, camera(frame), 1, frame + 1)
  for (let i = 0; i < picture.luma.length; i++)
    if (within(frame, i % width, Math.floor(i / width))) picture.luma[i] = 240
  frames.set(frame, picture)
  return picture
}
const maskOf = (frame: number) =>
  Uint8Array.from({ length: width * height }, (_, i) => Number(within(frame, i % width, Math.floor(i / width), 2)))
const task = (more: Partial<PlateTask> = {}): PlateTask => ({
  ...{ length, matrix: 'bt709', range: 'full', told: () => {}, stopped: () => false },
  picture: async (frame) => filmed(frame),
  hidden: maskOf,
  isTold: () => true,
  ...more,
})

describe('a clean plate', () => {
  it('shows what is behind somebody wherever some frame does, over all that the camera saw', async () => {
    const shares: number[] = []
    const plate = (await cleanPlate(task({ told: (share) => shares.push(share) })))!
    expect(plate.lost).toBe(0)
    expect(plate.picture.width).toBeGreaterThan(width + 50)
    expect(shares.every((share, i) => i === 0 || share >= shares[i - 1]!)).toBe(true)
    expect(shares.at(-1)).toBe(1)
    // What the frame in the middle of the shot hides, against the texture itself.
    const frame = length / 2
    const [a, b, tx, ty] = plate.motions.slice(4 * frame, 4 * frame + 4) as [number, number, number, number]
    const base = camera(frame)
    let [sum, count, open] = [0, 0, 0]
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        if (!within(frame, x, y)) continue
        // From the frame to the plate: the nearest pixel, which may be half of one away.
        const [u, v] = [x + 0.5 - tx, y + 0.5 - ty]
        const [px, py] = [a * u + b * v - plate.x, -b * u + a * v - plate.y]
        const word = plate.picture.words[Math.floor(py) * plate.picture.width + Math.floor(px)]!
        if (word >>> 24 !== 255) open++
        // The texture at the middle of that pixel, by the camera that is known.
        const [cx, cy] = [Math.floor(px) + 0.5 + plate.x, Math.floor(py) + 0.5 + plate.y]
        const [fx, fy] = [a * cx - b * cy + tx, b * cx + a * cy + ty]
        const [dx, dy] = [fx - base[2], fy - base[5]]
        sum += Math.abs((word & 255) - behind(base[0] * dx + base[3] * dy, base[1] * dx + base[4] * dy))
        count++
      }
    expect(open).toBe(0)
    expect(sum / count).toBeLessThan(4)
  })
  it('is filled from its edge where somebody stands still before a still camera, and says how much of it', async () => {
    const still = pictureOf(width, height, () => 90)
    const plate = (await cleanPlate(task({ picture: async () => still, hidden: () => maskOf(0) })))!
    expect(plate.filled).toBeCloseTo((Math.PI * (radius + 2) ** 2) / (width * height), 2)
    expect(plate.picture.words.every((word) => word >>> 24 === 255 && Math.abs((word & 255) - 90) <= 1)).toBe(true)
  })
  it('is not made where the picture is another one all the time, and says why', async () => {
    const other = async (frame: number) => pictureOf(width, height, texture(100 + frame))
    const refusal: unknown = await cleanPlate(task({ picture: other })).catch((error: unknown) => error)
    expect(refusal).toBeInstanceOf(Refusal)
    expect(String(refusal)).toMatch(/where others show them/)
  })
  it('takes nothing from frames on which nobody says where somebody is, and is not made of a few', async () => {
    const still = pictureOf(width, height, behind)
    // On every second frame somebody stands there whom no mask tells of.
    const somebody = maskOf(0)
    const there = { ...still, luma: still.luma.map((v, i) => (somebody[i] ? 240 : v)) }
    const even = (frame: number) => frame % 2 === 0
    const half = task({ picture: async (frame) => (even(frame) ? still : there), hidden: () => null, isTold: even })
    const plate = (await cleanPlate(half))!
    const { words, width: row } = plate.picture
    const shown = (i: number) => words[(Math.floor(i / width) - plate.y) * row + (i % width) - plate.x]! & 255
    expect(Math.max(...still.luma.map((v, i) => Math.abs(shown(i) - v)))).toBeLessThanOrEqual(1)
    const few = task({ picture: async () => still, isTold: (frame) => frame < 3 })
    await expect(cleanPlate(few)).rejects.toThrow(/traced on only 3 of 24 frames/)
  })
  it('can be stopped at any time', async () => {
    for (const after of [0, 5, 40]) {
      let asked = 0
      const picture = async (frame: number) => (asked++, filmed(frame))
      expect(await cleanPlate(task({ picture, stopped: () => asked > after }))).toBeNull()
      expect(asked).toBeLessThan(after + 4)
    }
  })
})
