import { beforeAll, describe, expect, it } from 'vitest'
import { openCv } from '#lab/support/openCv.ts'
import { pictureOf, texture } from '#lab/support/textures.ts'
import { mapped, mappedAll, type Projective } from '../geometry/projective.ts'
import { type MotionModel, Patch } from './align.ts'
import type { FollowPicture } from './frame.ts'
import { PlaneFollower } from './plane.ts'

type Cv = typeof import('@techstark/opencv-js')
let cv: Cv
beforeAll(async () => {
  ;({ cv } = await openCv())
}, 60_000)

const [width, height] = [320, 240]
const square = [110, 80, 210, 80, 210, 160, 110, 160]
const still: Projective = [1, 0, 0, 0, 1, 0, 0, 0, 1]
/** Turned by `angle` and grown by `size` about (160, 120), then shifted. */
function about(angle: number, size: number, dx: number, dy: number): Projective {
  const [c, s] = [size * Math.cos(angle), size * Math.sin(angle)]
  return [c, -s, 160 + dx - c * 160 + s * 120, s, c, 120 + dy - s * 160 - c * 120, 0, 0, 1]
}
const farthest = (a: readonly number[], b: readonly number[]) => {
  let most = 0
  for (let i = 0; i < a.length; i += 2) most = Math.max(most, Math.hypot(a[i]! - b[i]!, a[i + 1]! - b[i + 1]!))
  return most
}

describe('A region is found where it went', () => {
  const bright = texture(3)
  const reference = pictureOf(width, height, bright)
  const patch = new Patch(reference, square, 3, [])
  const maps: [MotionModel, Projective][] = [
    ['translation', about(0, 1, 7.3, -4.6)],
    ['rigid', about(0.12, 1, 3.2, 5.1)],
    ['similarity', about(-0.08, 1.11, -4.4, 2.7)],
    ['affine', [1.06, 0.08, -12, -0.05, 0.95, 9, 0, 0, 1]],
    ['homography', [1.02, 0.03, -6, -0.02, 1.03, 2, 1.5e-4, -1.2e-4, 1]],
  ]
  it.each(maps)('%s, within a tenth of a pixel, under grain and another light', (model, map) => {
    const moved = pictureOf(width, height, (x, y) => 0.85 * bright(x, y) + 14, map, 2, 7)
    const fit = patch.find(moved, still, model, 24)!
    expect(farthest(mappedAll(fit.map, square), mappedAll(map, square))).toBeLessThan(0.1)
    expect(fit.correlation).toBeGreaterThan(0.9)
    expect(fit.light.gain).toBeCloseTo(0.85, 1)
  })

  it('lost track of by more than its search it is not claimed to be found', () => {
    const moved = pictureOf(width, height, texture(99), still, 2)
    const fit = patch.find(moved, still, 'similarity', 24)
    expect(fit?.correlation ?? 0).toBeLessThan(0.6)
  })

  it('what lies over it is left out, and what nobody named is outweighed', () => {
    const map = about(0.05, 1, 6, 3)
    const cover = [150, 70, 260, 70, 260, 125, 150, 125]
    const inCover = (x: number, y: number) => x > 150 && x < 260 && y > 70 && y < 125
    const other = texture(55)
    const moved = pictureOf(width, height, bright, map, 2, 7)
    const plain = pictureOf(width, height, other)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) if (inCover(x, y)) moved.luma[y * width + x] = plain.luma[y * width + x]!
    const off = (covered: number[][]) => {
      const fit = patch.find(moved, still, 'similarity', 24, covered)!
      return farthest(mappedAll(fit.map, square), mappedAll(map, square))
    }
    expect(off([cover])).toBeLessThan(0.15)
    expect(off([])).toBeLessThan(1)
  })
})

describe('Anchored to its key frame', () => {
  const bright = texture(3)
  const mapAt = (t: number) => about(0.004 * t, 1 + 0.001 * t, 0.9 * t * Math.cos(t / 20), 0.5 * t)
  const frames: FollowPicture[] = []
  beforeAll(() => {
    for (let t = 0; t <= 60; t++)
      frames.push(pictureOf(width, height, (x, y) => (1 + 0.002 * t) * (bright(x, y) - 128) + 128, mapAt(t), 2, t))
  })

  it('a region has drifted by less than a tenth of a pixel after 60 frames; chained pyramidal LK has by several times that', () => {
    const follower = new PlaneFollower({
      ...{ picture: frames[0]!, region: square, points: square, model: 'similarity', covered: [] },
    })
    let last: number[] = []
    for (let t = 1; t <= 60; t++) {
      const found = follower.step(frames[t]!, [])!
      expect(found.confidence, `frame ${t}`).toBeGreaterThan(0.5)
      last = found.points
    }
    const drift = farthest(last, mappedAll(mapAt(60), square))
    expect(drift).toBeLessThan(0.1)

    // The reference: Bouguet's pyramidal LK as OpenCV has it, from each frame to the next, from 25 places of the region.
    const places: number[] = []
    for (let j = 0; j < 5; j++) for (let i = 0; i < 5; i++) places.push(116 + 22 * i, 86 + 17 * j)
    const mat = (picture: FollowPicture) => cv.matFromArray(height, width, cv.CV_8UC1, picture.luma as never)
    let points = cv.matFromArray(25, 1, cv.CV_32FC2, places)
    let before = mat(frames[0]!)
    for (let t = 1; t <= 60; t++) {
      const [now, next, status, err] = [mat(frames[t]!), new cv.Mat(), new cv.Mat(), new cv.Mat()]
      cv.calcOpticalFlowPyrLK(before, now, points, next, status, err, new cv.Size(21, 21), 3)
      for (const one of [before, points, status, err]) one.delete()
      ;[before, points] = [now, next]
    }
    const offs = Array.from({ length: 25 }, (_, i) => {
      const [x, y] = mapped(mapAt(60), places[2 * i]!, places[2 * i + 1]!)
      return Math.hypot(points.data32F[2 * i]! - x, points.data32F[2 * i + 1]! - y)
    }).sort((a, b) => a - b)
    before.delete()
    points.delete()
    expect(offs[12]! / drift, `LK ${offs[12]!.toFixed(2)} px, ours ${drift.toFixed(3)} px`).toBeGreaterThan(2)
  })

  it('what is hidden for a while is called lost or unsure meanwhile, and found again where it comes back', () => {
    const follower = new PlaneFollower({
      ...{ picture: frames[0]!, region: square, points: square, model: 'similarity', covered: [] },
    })
    const other = texture(77)
    for (let t = 1; t <= 30; t++) {
      const hidden = t >= 12 && t < 20
      const found = follower.step(hidden ? pictureOf(width, height, other) : frames[t]!, [])
      if (hidden) expect(found?.confidence ?? 0, `frame ${t}`).toBeLessThan(0.5)
      if (t > 21) expect(farthest(found!.points, mappedAll(mapAt(t), square)), `frame ${t}`).toBeLessThan(0.3)
    }
  })
})
