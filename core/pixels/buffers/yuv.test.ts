import { describe, expect, it } from 'vitest'
import { lumaOf } from './luma.ts'
import { i420Layout, reducedI420, splitNv12, type Yuv } from './yuv.ts'

/** A picture of arbitrary codes; `padding`: bytes behind every row, as decoders leave them. */
function picture(width: number, height: number, padding = 0): Yuv {
  const chroma = [(width + 1) >> 1, (height + 1) >> 1] as const
  const sizes = [[width, height] as const, chroma, chroma]
  let offset = 0
  const planes = sizes.map(([w, h]) => {
    const plane = { offset, stride: w + padding }
    offset += (w + padding) * h
    return plane
  })
  const data = Uint8Array.from({ length: offset }, (_, i) => (i * 7919 + (i >> 3) * 104_729) & 255)
  return { data, width, height, planes, matrix: 'bt709', range: 'limited', rotation: 0 }
}
/** The mean of the codes that one stands for, the last row and column repeated: rounded to the nearest. */
function mean(yuv: Yuv, plane: number, factor: number, x: number, y: number): number {
  const { offset, stride } = yuv.planes[plane]!
  const [width, height] = plane ? [(yuv.width + 1) >> 1, (yuv.height + 1) >> 1] : [yuv.width, yuv.height]
  let sum = 0
  for (let j = 0; j < factor; j++)
    for (let i = 0; i < factor; i++)
      sum += yuv.data[offset + Math.min(height - 1, y * factor + j) * stride + Math.min(width - 1, x * factor + i)]!
  return Math.floor(sum / factor ** 2 + 0.5)
}

it('pairs of chroma come apart into planes, also where sizes are odd and rows are padded', () => {
  const [width, height, stride] = [7, 5, 12]
  const raw = new Uint8Array(stride * (5 + 3)).fill(99)
  for (let y = 0; y < 5; y++) for (let x = 0; x < 7; x++) raw[y * stride + x] = 10 * y + x
  for (let y = 0; y < 3; y++)
    for (let x = 0; x < 4; x++) raw.set([100 + 10 * y + x, 200 + 10 * y + x], 5 * stride + y * stride + 2 * x)
  const { bytes, planes } = i420Layout(width, height)
  const data = new Uint8Array(bytes)
  const from = [0, 5 * stride].map((offset) => ({ offset, stride })) as [Yuv['planes'][0], Yuv['planes'][0]]
  splitNv12(raw, from, { data, width, height, planes })
  const rows = (first: number, w: number, h: number) =>
    Array.from({ length: h }, (_, y) => Array.from({ length: w }, (_, x) => first + 10 * y + x)).flat()
  expect([...data]).toEqual([...rows(0, 7, 5), ...rows(100, 4, 3), ...rows(200, 4, 3)])
})

describe('a picture that is made smaller as it is read', () => {
  it.each([
    [64, 36, 0],
    [70, 41, 0],
    [33, 19, 0],
    [64, 36, 12],
    [62, 36, 5],
  ])('is the mean of its codes: %i x %i, %i bytes behind every row', (width, height, padding) => {
    const yuv = picture(width, height, padding)
    for (const factor of [2, 4] as const) {
      const small = reducedI420(yuv, factor, (bytes) => new Uint8Array(bytes))
      expect([small.width, small.height, small.reduced]).toEqual([
        Math.ceil(width / factor),
        Math.ceil(height / factor),
        factor,
      ])
      expect(small.planes).toEqual(i420Layout(small.width, small.height).planes)
      for (const [plane, { offset, stride }] of small.planes.entries()) {
        const [w, h] = plane ? [(small.width + 1) >> 1, (small.height + 1) >> 1] : [small.width, small.height]
        for (let y = 0; y < h; y++)
          for (let x = 0; x < w; x++) {
            const told = `plane ${plane} at ${x}, ${y} by ${factor}`
            expect(small.data[offset + y * stride + x], told).toBe(mean(yuv, plane, factor, x, y))
          }
      }
    }
  })

  it('says how much smaller than its clip it is, also when it is made smaller twice', () => {
    const room = (bytes: number) => new Uint8Array(bytes)
    const half = reducedI420(picture(64, 36), 2, room)
    const quarter = reducedI420(half, 2, room)
    expect([half.reduced, quarter.reduced, quarter.width, quarter.height]).toEqual([2, 4, 16, 9])
  })

  it('holds no pixels beside its codes: those of the whole one are of another size', () => {
    const whole = { ...picture(64, 36), rgba: new Uint8Array(4 * 64 * 36) }
    expect(reducedI420(whole, 2, (bytes) => new Uint8Array(bytes)).rgba).toBeUndefined()
  })

  it('is as bright on a coarse grid as the whole one', () => {
    const yuv = picture(64, 36)
    const half = reducedI420(yuv, 2, (bytes) => new Uint8Array(bytes))
    const [a, b] = [lumaOf(yuv, 4), lumaOf(half, 4)]
    expect([b.width, b.height, b.reduce]).toEqual([a.width, a.height, 4])
    a.data.forEach((code, i) => expect(Math.abs(code - b.data[i]!)).toBeLessThanOrEqual(1))
  })
})
