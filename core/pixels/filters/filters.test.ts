import { describe, expect, it } from 'vitest'
import { Scratch, Slot } from '../buffers/scratch.ts'
import { i420Layout, rgbaToI420, type Yuv, yuvToReducedRgba, yuvToRgba } from '../buffers/yuv.ts'
import { colourName } from '../colour/colourName.ts'
import { linearColour, to8Bit, toEncoded, toLinear } from '../colour/transfer.ts'
import { span } from '../kernels/interface.ts'
import { phi } from '../kernels/phi.ts'
import { plainKernels } from '../kernels/plain.ts'
import { squaredDistance } from './distance.ts'
import { fillHoles } from './fillHoles.ts'
import { blurDirect } from './gaussian.ts'

describe('filling holes', () => {
  const [width, height] = [90, 70]
  /** A picture that knows nothing of a disc of 22 pixels. */
  const holed = (colour: (x: number, y: number) => number) => {
    const data = new Float32Array(4 * width * height)
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i += 4)
        if (Math.hypot(x - 48, y - 33) > 22) data.set([colour(x, y), 0.5, 0, 1], i)
    return { data, width, height }
  }
  /** Largest difference of the first channel from what it should be. */
  const off = ({ data }: { data: Float32Array }, colour: (x: number, y: number) => number) => {
    let most = 0
    for (let i = 0; i < width * height; i++)
      most = Math.max(most, Math.abs(data[4 * i]! - colour(i % width, Math.floor(i / width))))
    return most
  }
  // Harmonic functions are their own solution of Laplace's equation: a slope, and the saddle x y.
  it.each([
    ['a slope', (x: number, y: number) => 0.2 + 0.004 * x + 0.003 * y],
    ['a saddle', (x: number, y: number) => 0.5 + 0.0003 * (x - 48) * (y - 33)],
  ])('goes on with %s', (_, colour) => {
    const picture = holed(colour)
    fillHoles(picture, new Scratch())
    expect(off(picture, colour)).toBeLessThan(0.01)
    expect(picture.data.every((v, i) => i % 4 !== 3 || v > 0.999)).toBe(true)
  })
  it('leaves a picture that knows nothing as it is', () => {
    const picture = { data: new Float32Array(4 * 12 * 9), width: 12, height: 9 }
    fillHoles(picture, new Scratch())
    expect(picture.data.some((v) => v !== 0)).toBe(false)
  })
})

describe('sRGB transfer (IEC 61966-2-1)', () => {
  it('has the published values', () => {
    expect(toLinear(0.5)).toBeCloseTo(0.214041, 6)
    expect(toLinear(0.04045)).toBeCloseTo(0.04045 / 12.92, 9)
    expect(toEncoded(0.214041)).toBeCloseTo(0.5, 5)
  })
  it('gives every 8-bit level back through linear light', () => {
    for (let i = 0; i < 256; i++) expect(to8Bit(toLinear(i / 255))).toBe(i)
    expect(to8Bit(7)).toBe(255)
    expect(linearColour('#ff8000')[1]).toBeCloseTo(0.21586, 4)
  })
})

describe('blending (W3C Compositing and Blending Level 1)', () => {
  it('screen (9.1.2) and plus-lighter (10.1), as light is laid on', () => {
    const light = Float32Array.from([0.6, 0.2, 1])
    const [added, screened] = [Float32Array.from([0.3, 0.5, 0, 1]), Float32Array.from([0.3, 0.5, 0, 1])]
    plainKernels.addLine(span(light), span(added), 1)
    plainKernels.screenLine(span(light), span(screened), 1)
    const close = (mine: Float32Array, formula: number[]) =>
      mine.forEach((value, i) => expect(value).toBeCloseTo(formula[i]!, 6))
    close(added, [0.3 + 0.6, 0.5 + 0.2, 0 + 1, 1])
    close(screened, [1 - (1 - 0.3) * (1 - 0.6), 1 - (1 - 0.5) * (1 - 0.2), 1 - (1 - 0) * (1 - 1), 1])
  })
})

describe('Gaussian', () => {
  it('distribution function (tables of the normal distribution: 0.8413, 0.9772)', () => {
    expect(phi(0)).toBeCloseTo(0.5, 4)
    expect(phi(1)).toBeCloseTo(0.841345, 4)
    expect(phi(-2)).toBeCloseTo(0.02275, 4)
  })
  it('blur keeps the sum and the variance asked for', () => {
    const data = new Float32Array(61 * 61)
    data[30 * 61 + 30] = 1
    blurDirect({ data, width: 61, height: 61 }, 3, new Scratch())
    let [sum, variance] = [0, 0]
    for (let y = 0; y < 61; y++)
      for (let x = 0; x < 61; x++) {
        sum += data[y * 61 + x]!
        variance += data[y * 61 + x]! * (x - 30) ** 2
      }
    expect(sum).toBeCloseTo(1, 4)
    expect(Math.sqrt(variance)).toBeCloseTo(3, 1)
  })
})

/** One colour as a 4x2 I420 picture. */
function flat(
  y: number,
  u: number,
  v: number,
  matrix: Yuv['matrix'],
  range: Yuv['range'],
  rotation: Yuv['rotation'] = 0,
): Yuv {
  const { bytes, planes } = i420Layout(4, 2)
  const data = new Uint8Array(bytes).fill(y, 0, 8).fill(u, 8, 10).fill(v, 10, 12)
  return { data, width: 4, height: 2, planes, matrix, range, rotation }
}
const rgb = (yuv: Yuv) => {
  const out = new Uint32Array(8)
  yuvToRgba(yuv, out)
  return [out[0]! & 255, (out[0]! >> 8) & 255, (out[0]! >> 16) & 255]
}

describe('video colour', () => {
  // 75 per cent and 100 per cent colour bars in 8-bit limited range (ITU-R BT.709-6 and BT.601-7 equations).
  it.each([
    ['white', [235, 128, 128], 'bt709', [255, 255, 255]],
    ['black', [16, 128, 128], 'bt709', [0, 0, 0]],
    ['red', [63, 102, 240], 'bt709', [255, 0, 0]],
    ['green', [173, 42, 26], 'bt709', [0, 255, 0]],
    ['blue', [32, 240, 118], 'bt709', [0, 0, 255]],
    ['red', [81, 90, 240], 'bt601', [255, 0, 0]],
    ['green', [145, 54, 34], 'bt601', [0, 255, 0]],
    ['blue', [41, 240, 110], 'bt601', [0, 0, 255]],
  ] as const)('%s %j %s', (_, [y, u, v], matrix, expected) => {
    rgb(flat(y, u, v, matrix, 'limited')).forEach((value, i) =>
      expect(Math.abs(value - expected[i]!)).toBeLessThanOrEqual(2),
    )
  })
  it('is exact to one level against the equations in floating point', () => {
    for (let y = 16; y <= 235; y += 13)
      for (let u = 40; u <= 220; u += 17)
        for (let v = 40; v <= 220; v += 19) {
          const [yy, cb, cr] = [(y - 16) / 219, (u - 128) / 224, (v - 128) / 224]
          const exact = [yy + 1.5748 * cr, yy - 0.187324 * cb - 0.468124 * cr, yy + 1.8556 * cb].map(
            (c) => Math.min(1, Math.max(0, c)) * 255,
          )
          rgb(flat(y, u, v, 'bt709', 'limited')).forEach((value, i) =>
            expect(Math.abs(value - exact[i]!)).toBeLessThan(1),
          )
        }
  })
  it('goes to I420 and back within the rounding of 8 bits', () => {
    const rgba = new Uint8Array(8 * 4)
    for (const colour of [
      [12, 200, 77],
      [250, 3, 128],
      [90, 90, 90],
      [0, 20, 255],
    ]) {
      for (let i = 0; i < 8; i++) rgba.set([...colour, 255], 4 * i)
      const { bytes, planes } = i420Layout(4, 2)
      const data = new Uint8Array(bytes)
      rgbaToI420(rgba, 4, 2, data)
      const back = rgb({ data, width: 4, height: 2, planes, matrix: 'bt709', range: 'limited', rotation: 0 })
      back.forEach((value, i) => expect(Math.abs(value - colour[i]!)).toBeLessThanOrEqual(2))
    }
  })
  it('turns the picture upright', () => {
    const { bytes, planes } = i420Layout(4, 2)
    const data = new Uint8Array(bytes).fill(128)
    data.set([16, 50, 90, 130, 170, 200, 220, 235])
    const turned = (rotation: Yuv['rotation']) => {
      const out = new Uint32Array(8)
      yuvToRgba({ data, width: 4, height: 2, planes, matrix: 'bt709', range: 'full', rotation }, out)
      return [...out].map((word) => word & 255)
    }
    expect(turned(0)).toEqual([16, 50, 90, 130, 170, 200, 220, 235])
    expect(turned(90)).toEqual([170, 16, 200, 50, 220, 90, 235, 130])
    expect(turned(180)).toEqual([235, 220, 200, 170, 130, 90, 50, 16])
    expect(turned(270)).toEqual([130, 235, 90, 220, 50, 200, 16, 170])
  })
  it('reduces by the mean of light, not of codes, with the last row and column repeated', () => {
    const { bytes, planes } = i420Layout(5, 2)
    const data = new Uint8Array(bytes).fill(128)
    data.set([255, 0, 255, 255, 0, 255, 0, 255, 255, 0])
    const yuv: Yuv = { data, width: 5, height: 2, planes, matrix: 'bt709', range: 'full', rotation: 0 }
    const out = new Uint32Array(3)
    yuvToReducedRgba(yuv, 2, out)
    // Half the light is code 188 (sRGB of 0.5).
    expect([...out].map((word) => word & 255)).toEqual([188, 255, 0])
    const turned = new Uint32Array(3)
    yuvToReducedRgba({ ...yuv, rotation: 180 }, 2, turned)
    expect([...turned]).toEqual([...out].reverse())
  })
})

describe('names of colours', () => {
  it.each([
    ['#ffffff', 'white'],
    ['#ff0000', 'red'],
    ['#3f9cff', 'blue'],
    ['#00ff00', 'green'],
    ['#ff8c1a', 'orange'],
    ['#d8e8ff', 'pale blue'],
    ['#200040', 'deep violet'],
    ['#808080', 'grey'],
  ])('%s is %s', (hex, name) => expect(colourName(hex)).toBe(name))
})

describe('distances', () => {
  const [width, height] = [37, 23]
  const mask = { data: new Uint8Array(width * height), width, height }
  // Two discs, one of them cut by the rim.
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      mask.data[y * width + x] = Math.hypot(x - 9, y - 8) < 5.3 || Math.hypot(x - 34, y - 15) < 6.1 ? 1 : 0
  const all = [...mask.data.keys()]
  const apart = (a: number, b: number) =>
    ((a % width) - (b % width)) ** 2 + (Math.floor(a / width) - Math.floor(b / width)) ** 2
  const least = (at: number, value: number) =>
    Math.min(...all.filter((i) => mask.data[i] === value).map((i) => apart(at, i)))

  it('are those of the nearest pixel, counted one by one, and it is named', () => {
    for (const value of [0, 1] as const) {
      const nearest = new Int32Array(width * height)
      const squared = squaredDistance(mask, value, new Scratch(), new Slot(), nearest)
      for (const i of all) {
        expect(squared[i], `pixel ${i}`).toBe(least(i, value))
        expect(mask.data[nearest[i]!]).toBe(value)
        expect(apart(i, nearest[i]!)).toBe(squared[i])
      }
    }
  })
  it('are exact up to where somebody asks for them, and more than that beyond', () => {
    const squared = squaredDistance(mask, 1, new Scratch(), new Slot(), null, 4)
    for (const i of all) {
      const truth = least(i, 1)
      if (truth <= 16) expect(squared[i], `pixel ${i}`).toBe(truth)
      else expect(squared[i]).toBeGreaterThan(16)
    }
  })
})
