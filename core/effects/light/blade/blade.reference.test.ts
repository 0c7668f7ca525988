import { beforeAll, describe, expect, it } from 'vitest'
import { bareContext } from '#lab/support/bareContext.ts'
import { openCv } from '#lab/support/openCv.ts'
import { flatten } from '../../../geometry/path.ts'
import { coverPolygon, matteOf } from '../../../matte/coverage.ts'
import { Scratch } from '../../../pixels/buffers/scratch.ts'
import { blurDirect } from '../../../pixels/filters/gaussian.ts'
import { oval } from '../../../shapes/kinds/oval.ts'
import { rod } from '../../../shapes/kinds/rod.ts'
import { blade } from './blade.ts'
import { renderBlade } from './render.ts'

// What is computed in closed form or by our own loops, against OpenCV's GaussianBlur of the same shape.
const [width, height] = [320, 240]
const frame = { x: 0, y: 0, width, height }
let cv: Awaited<ReturnType<typeof openCv>>['cv']
beforeAll(async () => {
  ;({ cv } = await openCv())
}, 60_000)

function blurred(data: Float32Array, sigma: number): Float32Array {
  const [from, to] = [new cv.Mat(height, width, cv.CV_32F), new cv.Mat()]
  from.data32F.set(data)
  const size = 2 * Math.ceil(5 * sigma) + 1
  cv.GaussianBlur(from, to, new cv.Size(size, size), sigma, sigma, cv.BORDER_CONSTANT)
  const out = Float32Array.from(to.data32F)
  from.delete()
  to.delete()
  return out
}
const covered = (path: number[]) => {
  const out = new Float32Array(width * height)
  coverPolygon(flatten(path), frame, out)
  return out
}
const worstOf = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((worst, value, i) => Math.max(worst, Math.abs(value - b[i]!)), 0)

describe('against OpenCV', () => {
  it.each([
    [16, [90, 170, 230, 70]],
    [30, [160, 60, 160, 180]],
    [60, [120, 130, 200, 110]],
  ])('a halo of feather %i is the blurred rod, along its length and around its ends: %j', (feather, points) => {
    const coreWidth = 12
    const data = new Float32Array(width * height * 4)
    renderBlade.draw(
      bareContext(blade, {
        settings: {
          ...{ coreWidth, taper: 0, brightness: 0, smear: 0, flicker: 0, spill: 0, outside: '#ffffff' },
          halos: [{ feather, strength: 1, colour: '' }],
        },
        parts: [{ id: 'p', kind: 'rod', role: 'add', settings: {}, at: () => points }],
      }),
      { data, region: frame, holdout: null },
    )
    const reference = blurred(covered(rod.path(points, { widthHeel: coreWidth, widthTip: coreWidth })), feather / 2)
    // The strength is the light in the middle of a long rod: its profile there is the reference's unit.
    let sum = 0
    const sigma = feather / 2
    for (let v = -coreWidth / 2 + 0.005; v < coreWidth / 2; v += 0.01)
      sum += (0.01 * Math.exp(-(v * v) / (2 * sigma * sigma))) / (sigma * Math.sqrt(2 * Math.PI))
    const mine = Array.from({ length: width * height }, (_, i) => data[4 * i]! * sum)
    expect(worstOf(mine, reference) / Math.max(...reference)).toBeLessThan(0.012)
  })

  it.each([0.5, 1, 3, 8])('the direct blur, sigma %f', (sigma) => {
    const mine = covered(oval.path(oval.fromClicks([160, 120, 205, 150]), {}))
    const reference = blurred(mine, sigma)
    blurDirect({ data: mine, width, height }, sigma, new Scratch())
    expect(worstOf(mine, reference)).toBeLessThan(0.002)
  })

  it('a holdout with a feather of 2 px (common practice, no source) is the oval blurred by half of it', () => {
    const path = oval.path([150, 110, 190, 130, 135, 140], {})
    const matte = matteOf(path, 2, frame)
    const reference = blurred(covered(path), 1)
    const mine = new Float32Array(width * height)
    for (let y = 0; y < matte.height; y++)
      for (let x = 0; x < matte.width; x++) mine[(matte.y + y) * width + matte.x + x] = matte.data[y * matte.width + x]!
    expect(worstOf(mine, reference)).toBeLessThan(0.002)
  })
})
