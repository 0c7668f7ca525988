import { Resvg } from '@resvg/resvg-js'
import { beforeAll, describe, expect, it } from 'vitest'
import { openCv } from '#lab/support/openCv.ts'
import { gradeMatrix } from '../effects/colour/grade/render.ts'
import { type BorderMode, borderModes } from './buffers/border.ts'
import { Scratch, Slot } from './buffers/scratch.ts'
import { blendFunctions, type BlendName, blendNames, blendRow } from './colour/blend.ts'
import { adaptation, chromaticity } from './colour/temperature.ts'
import { toneCurve } from './colour/tone.ts'
import { quickEncoded, quickLinear, toEncoded, toLinear } from './colour/transfer.ts'
import { blurPicture } from './filters/blur.ts'
import { blurAlong } from './filters/directional.ts'
import { blurDisc } from './filters/disc.ts'
import { signedDistance, squaredDistance } from './filters/distance.ts'
import { hashed } from './filters/noise.ts'
import { warp } from './filters/warp.ts'
import { startKernels } from './kernels/engine.ts'
import { span } from './kernels/interface.ts'

const slots = { noise: new Slot(), distance: new Slot(), signed: new Slot() }

const [width, height] = [256, 192]
let cv: Awaited<ReturnType<typeof openCv>>['cv']
let scratch: Scratch
beforeAll(async () => {
  ;({ cv } = await openCv())
  scratch = new Scratch(startKernels(64 * 1024 ** 2))
}, 60_000)

/** Noise in blocks of three pixels: edges everywhere. */
function noise(seed = 1): Float32Array {
  const data = scratch.floats(slots.noise.part(seed), 4 * width * height)
  for (let i = 0; i < data.length; i++) {
    const [x, y] = [(i >> 2) % width, Math.floor((i >> 2) / width)]
    data[i] = hashed(Math.floor(x / 3), Math.floor(y / 3), seed + (i & 3))
  }
  return data
}
function withCv(
  data: Float32Array,
  run: (from: InstanceType<typeof cv.Mat>, to: InstanceType<typeof cv.Mat>) => void,
): Float32Array {
  const [from, to] = [new cv.Mat(height, width, cv.CV_32FC4), new cv.Mat()]
  from.data32F.set(data)
  run(from, to)
  const out = Float32Array.from(to.data32F)
  from.delete()
  to.delete()
  return out
}
const worst = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0)
const mean = (a: ArrayLike<number>, b: ArrayLike<number>) =>
  Array.from(a).reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length

describe('blurs against OpenCV', () => {
  it.each([
    [1.3, 1.3],
    [4, 4],
    [7, 7],
    [12, 12],
    [9, 0],
    [0, 3],
    [6, 15],
  ])('Gaussian of %f by %f pixels', (sx, sy) => {
    const mine = noise()
    const reference = withCv(mine, (from, to) => {
      const size = (s: number) => 2 * Math.ceil(5 * s) + 1
      cv.GaussianBlur(from, to, new cv.Size(size(sx), size(sy)), sx || 1e-6, sy || 1e-6, cv.BORDER_REFLECT)
    })
    blurPicture({ data: mine, width, height }, { x: sx, y: sy }, 'mirrored', scratch)
    // A wide one works on reduced copies; what it loses there stays below a level on a picture of hard noise.
    expect(worst(mine, reference)).toBeLessThan(0.012)
    expect(mean(mine, reference)).toBeLessThan(0.003)
  })
  it('along an angle: at 0 degrees the Gaussian sideways', () => {
    const mine = noise()
    const reference = withCv(mine, (from, to) =>
      cv.GaussianBlur(from, to, new cv.Size(61, 1), 6, 1e-6, cv.BORDER_REPLICATE),
    )
    blurAlong({ data: mine, width, height }, 6, Math.atan2(0, 1), scratch)
    expect(mean(mine, reference)).toBeLessThan(0.012)
  })
  it('a disc, against the same disc as a filter', () => {
    const radius = 5
    const mine = noise()
    const kernel = new cv.Mat(11, 11, cv.CV_32F)
    let sum = 0
    // Each row of the disc is a span of twice its half chord plus a pixel, its ends by their share.
    for (let y = 0; y < 11; y++)
      for (let x = 0; x < 11; x++) {
        const half = Math.sqrt(Math.max(0, radius * radius - (y - 5) ** 2))
        const v = half === 0 ? 0 : Math.max(0, Math.min(1, half + 1 - Math.abs(x - 5)))
        kernel.data32F[y * 11 + x] = v
        sum += v
      }
    kernel.data32F.forEach((v: number, i: number) => (kernel.data32F[i] = v / sum))
    const reference = withCv(mine, (from, to) =>
      cv.filter2D(from, to, -1, kernel, new cv.Point(-1, -1), 0, cv.BORDER_REPLICATE),
    )
    kernel.delete()
    blurDisc({ data: mine, width, height }, radius, scratch)
    expect(worst(mine, reference)).toBeLessThan(1e-4)
  })
})

describe('warping against OpenCV remap', () => {
  const borders: Record<BorderMode, string> = {
    stretched: 'BORDER_REPLICATE',
    repeated: 'BORDER_WRAP',
    mirrored: 'BORDER_REFLECT',
    nothing: 'BORDER_CONSTANT',
  }
  it.each(borderModes)('edge %s', (edge) => {
    const where = (x: number, y: number): [number, number] => [
      x * 1.3 - 20 + 7 * Math.sin(y / 9),
      y * 1.2 - 9 + 5 * Math.cos(x / 11),
    ]
    const mine = noise(2)
    const [mapX, mapY] = [new cv.Mat(height, width, cv.CV_32F), new cv.Mat(height, width, cv.CV_32F)]
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++) {
        const [u, v] = where(x + 0.5, y + 0.5)
        mapX.data32F[i] = u - 0.5
        mapY.data32F[i] = v - 0.5
      }
    const reference = withCv(mine, (from, to) =>
      cv.remap(
        from,
        to,
        mapX,
        mapY,
        cv.INTER_LINEAR,
        (cv as never as Record<string, number>)[borders[edge]],
        new cv.Scalar(0, 0, 0, 0),
      ),
    )
    warp(
      { data: mine, region: { x: 0, y: 0, width, height } },
      {
        where: (x, y, out) => {
          ;[out[0], out[1]] = where(x, y)
        },
        step: 1,
      },
      edge,
      scratch,
    )
    // OpenCV rounds its places to 1/32 of a pixel.
    expect(worst(mine, reference)).toBeLessThan(0.07)
    expect(mean(mine, reference)).toBeLessThan(0.01)
  })
})

describe('distances', () => {
  it('squared ones are what OpenCV’s exact transform finds', () => {
    const is = (i: number) => hashed(i, 5) > 0.97
    const mask = Uint8Array.from({ length: width * height }, (_, i) => (is(i) ? 1 : 0))
    const mine = squaredDistance({ data: mask, width, height }, 1, scratch, slots.distance)
    const [from, to] = [new cv.Mat(height, width, cv.CV_8U), new cv.Mat()]
    for (let i = 0; i < width * height; i++) from.data[i] = is(i) ? 0 : 255
    cv.distanceTransform(from, to, cv.DIST_L2, cv.DIST_MASK_PRECISE)
    expect(worst(mine.map(Math.sqrt), to.data32F)).toBeLessThan(1e-3)
    from.delete()
    to.delete()
  })
  it('signed ones of a disc lie within half the diagonal of a pixel of the true ones, and a seventh of a pixel on average', () => {
    const matte = new Float32Array(width * height)
    const truth = (i: number) => Math.hypot((i % width) + 0.5 - 48, Math.floor(i / width) + 0.5 - 32) - 20.3
    for (let i = 0; i < matte.length; i++) matte[i] = Math.max(0, Math.min(1, 0.5 - truth(i)))
    const mine = signedDistance({ data: matte, width, height }, scratch, slots.signed)
    for (let i = 0; i < matte.length; i++) expect(Math.abs(mine[i]! - truth(i))).toBeLessThan(Math.SQRT1_2)
    expect(matte.reduce((sum, _, i) => sum + Math.abs(mine[i]! - truth(i)), 0) / matte.length).toBeLessThan(1 / 7)
  })
})

// resvg draws mix-blend-mode by the recommendation, on encoded values and 8 bits. Its non-separable modes do not (black
// takes a hue there): those are held against Chromium, in lab/browser/coverage.spec.ts.
describe('blending against resvg', () => {
  const css: Record<BlendName, string> = {
    ...{ normal: 'normal', add: 'plus-lighter', screen: 'screen', multiply: 'multiply', lighten: 'lighten' },
    ...{ darken: 'darken', overlay: 'overlay', softLight: 'soft-light', hardLight: 'hard-light' },
    ...{ dodge: 'color-dodge', burn: 'color-burn', difference: 'difference', exclusion: 'exclusion', hue: 'hue' },
    ...{ saturation: 'saturation', colour: 'color', luminosity: 'luminosity' },
  }
  const colours = ['#000000', '#ffffff', '#7f3fbf', '#20c040', '#f0a010', '#3060ff', '#808080', '#e0e0ff']
  const hex = (code: string) => [1, 3, 5].map((k) => parseInt(code.slice(k, k + 2), 16) / 255)
  it.each(Object.keys(blendFunctions) as BlendName[])('%s', (mode) => {
    for (const alpha of [1, 0.4])
      for (const behind of colours) {
        const cells = colours.map(
          (code, i) =>
            `<rect x="${i}" width="1" height="1" fill="${code}" fill-opacity="${alpha}" style="mix-blend-mode:${css[mode]}"/>`,
        )
        const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="8" height="1"><rect width="8" height="1" fill="${behind}"/>${cells.join('')}</svg>`
        const pixels = new Resvg(svg).render().pixels
        colours.forEach((code, i) => {
          const data = Float32Array.from([...hex(behind), 1])
          const layer = Float32Array.from([...hex(code).map((v) => v * alpha), alpha])
          blendRow(mode, span(layer, 0), span(data, 0), 1, { opacity: 1, mask: null }, new Scratch().kernels)
          for (let c = 0; c < 3; c++)
            expect(Math.abs(data[c]! * 255 - pixels[4 * i + c]!), `${mode} ${code} on ${behind}`).toBeLessThan(2.5)
        })
      }
  })
  it('Add is Plus-lighter of the recommendation, and keeps light above 1', () => {
    const data = Float32Array.from([0.75, 0.2, 0, 1])
    blendRow(
      'add',
      span(Float32Array.from([0.5, 0.1, 0, 0.5]), 0),
      span(data, 0),
      1,
      { opacity: 1, mask: null },
      new Scratch().kernels,
    )
    expect([...data]).toEqual([1.25, Math.fround(Math.fround(0.2) + Math.fround(0.1)), 0, 1])
  })
  it('a source at no opacity or under an empty mask changes nothing in any mode', () => {
    for (const mode of blendNames) {
      const data = Float32Array.from([0.3, 0.6, 0.9, 1])
      blendRow(
        mode,
        span(Float32Array.from([1, 0, 0, 1]), 0),
        span(data, 0),
        1,
        { opacity: 0, mask: null },
        new Scratch().kernels,
      )
      blendRow(
        mode,
        span(Float32Array.from([1, 0, 0, 1]), 0),
        span(data, 0),
        1,
        { opacity: 1, mask: Float32Array.from([0]) && span(Float32Array.from([0]), 0) },
        new Scratch().kernels,
      )
      expect([...data]).toEqual([...Float32Array.from([0.3, 0.6, 0.9, 1])])
    }
  })
  it('neutral colours of the separable modes leave the backdrop', () => {
    for (let b = 0; b <= 1; b += 0.125) {
      expect(blendFunctions.multiply(b, 1)).toBe(b)
      expect(blendFunctions.screen(b, 0)).toBe(b)
      expect(blendFunctions.softLight(b, 0.5)).toBeCloseTo(b, 12)
      expect(blendFunctions.hardLight(b, 0.5)).toBeCloseTo(b, 12)
      expect(blendFunctions.difference(b, 0)).toBe(b)
    }
  })
})

describe('colour', () => {
  it('the quick transfer curves are the exact ones', () => {
    for (let i = 0; i <= 5000; i++) {
      const v = i / 4000
      expect(Math.abs(quickEncoded(v) - toEncoded(v))).toBeLessThan(1e-5)
      expect(Math.abs(quickLinear(v) - toLinear(v))).toBeLessThan(1e-6)
    }
  })
  it('daylight lies where the CIE puts it: D50, D55, D65, D75 (CIE 15)', () => {
    for (const [kelvin, x, y] of [
      [5003, 0.3457, 0.3585],
      [5503, 0.3324, 0.3474],
      [6504, 0.3127, 0.329],
      [7504, 0.299, 0.3149],
    ] as const) {
      expect(chromaticity(kelvin)[0]).toBeCloseTo(x, 3)
      expect(chromaticity(kelvin)[1]).toBeCloseTo(y, 3)
    }
  })
  it('a black body of 2856 K is illuminant A (0.44757, 0.40745)', () => {
    expect(chromaticity(2856)[0]).toBeCloseTo(0.44757, 2)
    expect(chromaticity(2856)[1]).toBeCloseTo(0.40745, 2)
  })
  it('adaptation to D65 changes nothing, and lower temperatures make white warmer', () => {
    adaptation(6504)
      .flat()
      .forEach((v, i) => expect(v).toBeCloseTo(i % 4 === 0 ? 1 : 0, 2))
    const white = adaptation(3200).map((row) => row.reduce((a, b) => a + b))
    expect(white[0]).toBeGreaterThan(1.1)
    expect(white[2]).toBeLessThan(0.6)
    // The luminance of white is kept: Y of the target white is 1 as well.
    expect(0.2126 * white[0]! + 0.7152 * white[1]! + 0.0722 * white[2]!).toBeCloseTo(1, 2)
  })
  it.each([
    ['saturate', 0.3, 0],
    ['saturate', 0.8, 0],
    ['hueRotate', 0, 75],
    ['hueRotate', 0, -140],
  ])('saturation and hue are those of feColorMatrix, drawn by resvg: %s', (type, saturation, hue) => {
    const colours = ['#804020', '#2050a0', '#40a060', '#c0c0c0', '#905090']
    const value = type === 'saturate' ? saturation : hue
    const rects = colours.map((code, i) => `<rect x="${i}" width="1" height="1" fill="${code}"/>`).join('')
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="5" height="1"><filter id="f" x="0" y="0" width="1" height="1" color-interpolation-filters="linearRGB"><feColorMatrix type="${type}" values="${value}"/></filter><g filter="url(#f)">${rects}</g></svg>`
    const pixels = new Resvg(svg).render().pixels
    const own = type === 'saturate' ? saturation : 1
    const m = gradeMatrix({ exposure: 0, temperature: 6500, tint: 0, hue, saturation: own })
    colours.forEach((code, i) => {
      const rgb = [1, 3, 5].map((k) => toLinear(parseInt(code.slice(k, k + 2), 16) / 255))
      for (let c = 0; c < 3; c++) {
        const v = m[3 * c]! * rgb[0]! + m[3 * c + 1]! * rgb[1]! + m[3 * c + 2]! * rgb[2]!
        // Its weights are rounded to three places, and it keeps 8 bits of linear light.
        expect(Math.abs(255 * toEncoded(Math.max(0, Math.min(1, v))) - pixels[4 * i + c]!)).toBeLessThan(6)
      }
    })
  })
  it('a tone curve goes through its places and never turns back between rising ones', () => {
    const places: [number, number][] = [
      [0, 0],
      [0.2, 0.05],
      [0.25, 0.6],
      [0.7, 0.62],
      [1, 1],
    ]
    const curve = toneCurve(places)
    for (const [x, y] of places) expect(curve(x)).toBeCloseTo(y, 9)
    for (let i = 1; i <= 1000; i++) expect(curve(i / 1000)).toBeGreaterThanOrEqual(curve((i - 1) / 1000) - 1e-12)
  })
})
