import { beforeAll, describe, expect, it } from 'vitest'
import { openCv } from '#lab/support/openCv.ts'
import { fromUnitSquare, inverseOf, mapped } from './projective.ts'

let cv: Awaited<ReturnType<typeof openCv>>['cv']
beforeAll(async () => {
  ;({ cv } = await openCv())
}, 60_000)

const quad = [100, 50, 420, 90, 380, 300, 60, 260]

describe('the map of a pin', () => {
  it('is the one that OpenCV finds for the same four corners', () => {
    const unit = cv.matFromArray(4, 1, cv.CV_32FC2, [0, 0, 1, 0, 1, 1, 0, 1])
    const corners = cv.matFromArray(4, 1, cv.CV_32FC2, quad)
    const its = cv.getPerspectiveTransform(unit, corners)
    fromUnitSquare(quad)!.forEach((value, i) => expect(value).toBeCloseTo(its.data64F[i]!, 3))
  })
  it('carries the corners to the pin, and its inverse brings every place back', () => {
    const map = fromUnitSquare(quad)!
    expect(mapped(map, 0, 0)).toEqual([100, 50])
    mapped(map, 1, 1).forEach((v, i) => expect(v).toBeCloseTo([380, 300][i]!, 9))
    const back = inverseOf(map)!
    for (const [x, y] of [
      [0.3, 0.8],
      [0.9, 0.1],
    ] as const)
      mapped(back, ...mapped(map, x, y)).forEach((v, i) => expect(v).toBeCloseTo([x, y][i]!, 9))
  })
  it('there is none where the corners fall together', () => {
    expect(fromUnitSquare([10, 10, 10, 10, 10, 10, 10, 10])).toBeNull()
  })
})
