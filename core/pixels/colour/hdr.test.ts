import { describe, expect, it } from 'vitest'
import { cubeOf, hlgScene, narrowed, narrowedP3, pqLight, shown, tone, type WideTransfer } from './hdr.ts'

type Rgb = [number, number, number]
const grey = (code: number, transfer: WideTransfer) => shown([code, code, code], transfer)

describe('light from codes', () => {
  // ITU-R BT.2100-2, table 4: PQ; BT.2408-7, table 1: reference levels. Values from memory.
  it.each([
    [0, 0],
    [0.5081, 100],
    [0.58, 203],
    [0.7518, 1000],
    [1, 10_000],
  ])('PQ %d is %d cd/m2', (code, nits) => {
    expect(pqLight(code)).toBeGreaterThanOrEqual(nits * 0.99)
    expect(pqLight(code)).toBeLessThanOrEqual(nits * 1.01)
  })
  // BT.2100-2, table 5: the two pieces of the curve meet at a twelfth of the light.
  it('HLG is a square root up to a code of one half, and a logarithm above', () => {
    expect(hlgScene(0.5)).toBeCloseTo(1 / 12, 6)
    expect(hlgScene(0.5 + 1e-9)).toBeCloseTo(1 / 12, 6)
    expect(hlgScene(0.25)).toBeCloseTo(0.25 ** 2 / 3, 9)
    expect(hlgScene(1)).toBeCloseTo(1, 5)
  })
  // BT.2408-7: diffuse white is an HLG code of 75 % and a PQ code of 58 %; both are 203 cd/m2 on a screen of 1000.
  it('diffuse white looks alike by both', () => {
    const [hlg] = grey(0.75, 'hlg')
    const [pq] = grey(0.5807, 'pq')
    expect(Math.abs(hlg - pq)).toBeLessThan(0.004)
  })
})

describe('what a screen of BT.709 shows', () => {
  it('black stays black, the brightest white white, and everything between rises', () => {
    for (const transfer of ['hlg', 'pq'] as const) {
      expect(grey(0, transfer)[0]).toBeCloseTo(0, 6)
      expect(grey(1, transfer)).toEqual([1, 1, 1].map((v) => expect.closeTo(v, 3)))
      const values = Array.from({ length: 65 }, (_, i) => grey(i / 64, transfer)[1])
      values.slice(1).forEach((value, i) => expect(value).toBeGreaterThanOrEqual(values[i]! - 1e-6))
    }
  })
  // BT.2408-7: diffuse white is 203 cd/m2, an HLG code of 75 % and a PQ code of 58 %.
  it('with the brightest cut, diffuse white is white, and what is brighter is no brighter', () => {
    expect(shown([0.75, 0.75, 0.75], 'hlg', 'cut')[0]).toBeCloseTo(1, 2)
    expect(shown([0.58, 0.58, 0.58], 'pq', 'cut')[0]).toBeCloseTo(1, 2)
    expect(shown([0.9, 0.9, 0.9], 'hlg', 'cut')).toEqual([1, 1, 1].map((v) => expect.closeTo(v, 3)))
    // A screen of gamma 2.4 shows half of that light by a code of 0.749.
    expect(shown([0.51, 0.51, 0.51], 'pq', 'cut')[0] ** 2.4 * 203).toBeCloseTo(pqLight(0.51), 0)
    expect(shown([0.5, 0.5, 0.5], 'hlg', 'cut')[0]).toBeGreaterThan(shown([0.5, 0.5, 0.5], 'hlg')[0])
    expect(shown([0.4, 0.5, 0.6], 'sdr', 'cut')).toEqual(shown([0.4, 0.5, 0.6], 'sdr'))
  })
  it('grey stays grey', () => {
    for (const transfer of ['hlg', 'pq', 'sdr'] as const)
      for (const code of [0.1, 0.4, 0.7]) {
        const [r, g, b] = grey(code, transfer)
        expect(Math.max(Math.abs(r - g), Math.abs(b - g))).toBeLessThan(0.002)
      }
  })
  // BT.2446-1, method A: the pieces of the curve meet, and its ends are fixed.
  it('the curve of tones is one curve from 0 to 1', () => {
    expect([tone(0), tone(1)]).toEqual([expect.closeTo(0, 9), expect.closeTo(1, 9)])
    for (let luma = 0; luma < 0.999; luma += 0.001) {
      const step = tone(luma + 0.001) - tone(luma)
      expect(step, String(luma)).toBeGreaterThan(0)
      expect(step, String(luma)).toBeLessThan(0.02)
    }
  })
  // BT.2087-0, table 2, from memory: the primaries of BT.709 as light of BT.2020 come back as themselves.
  it.each<[string, Rgb, Rgb]>([
    ['red', [0.6274, 0.0691, 0.0164], [1, 0, 0]],
    ['green', [0.3293, 0.9195, 0.088], [0, 1, 0]],
    ['blue', [0.0433, 0.0114, 0.8956], [0, 0, 1]],
  ])('%s of BT.709 is what it was', (_, wide, narrow) => {
    narrowed(wide).forEach((v, i) => expect(v).toBeCloseTo(narrow[i]!, 3))
  })
  // W3C CSS Color 4, conversion of sRGB to Display P3, as light, from memory.
  it.each<[string, Rgb, Rgb]>([
    ['red', [0.8225, 0.0332, 0.0171], [1, 0, 0]],
    ['green', [0.1775, 0.9668, 0.0724], [0, 1, 0]],
    ['blue', [0, 0, 0.9105], [0, 0, 1]],
    ['white', [1, 1, 1], [1, 1, 1]],
  ])('%s of BT.709 in Display P3 is what it was', (_, wide, narrow) => {
    narrowedP3(wide).forEach((v, i) => expect(v).toBeCloseTo(narrow[i]!, 3))
  })
})

it('as a table: red runs fastest', () => {
  const lines = [...cubeOf('hlg', 'kept', 3)].join('').trim().split('\n')
  expect(lines[0]).toBe('LUT_3D_SIZE 3')
  expect(lines).toHaveLength(28)
  const row = (i: number) => lines[1 + i]!.split(' ').map(Number)
  expect(row(1)).toEqual(shown([0.5, 0, 0], 'hlg').map((v) => expect.closeTo(v, 5)))
  expect(row(9)).toEqual(shown([0, 0, 0.5], 'hlg').map((v) => expect.closeTo(v, 5)))
})
