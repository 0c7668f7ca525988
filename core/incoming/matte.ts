import { say } from '../say.ts'
import { brightnessOfCode, lumaOf } from '../pixels/buffers/luma.ts'
import { type Raster, rasterOf } from '../pixels/buffers/raster.ts'
import { uprightSize, type Yuv } from '../pixels/buffers/yuv.ts'
import { lumaWeights } from '../pixels/colour/luminance.ts'
import { Refusal } from '../refusal.ts'

/** What of a picture is the matte: what is white, what is black, or what is opaque. */
export type MatteReading = 'white' | 'black' | 'opaque'

/** Levels by which video is off where it means black or white: what lies closer to them is taken to be them. */
const noise = 6

/** How a picture is probably meant: by its alpha where it has any, else by what is white. */
export const usualReading = ({ rgba }: Yuv): MatteReading =>
  rgba?.some((v, i) => i % 4 === 3 && v < 255) ? 'opaque' : 'white'

/**
 * The matte that a decoded picture is, laid on a plate of so many pixels; null where nothing is in it. Throws a Refusal where the
 * picture has not the plate's proportions.
 */
export function matteOfPicture(
  yuv: Yuv,
  reading: MatteReading,
  plate: { width: number; height: number },
): Raster | null {
  const { width, height } = uprightSize(yuv)
  // A side may be rounded to a whole, even pixel.
  if (Math.abs((plate.width * height) / width - plate.height) > 2 * (plate.height / height) + 1)
    throw new Refusal(
      say`The matte is ${width} x ${height} pixels, the shot ${plate.width} x ${plate.height}: it must have the same proportions. Crop or scale it where it was made.`,
    )
  const levels = levelsOf(yuv, reading)
  const laid = width === plate.width && height === plate.height ? levels : resized(levels, width, height, plate)
  return rasterOf(laid, { x: 0, y: 0, ...plate })
}

function levelsOf(yuv: Yuv, reading: MatteReading): Uint8Array {
  const { rgba } = yuv
  if (reading === 'opaque') {
    if (!rgba) throw new Refusal(say`This clip has no transparency. Choose what is white, or what is black, of it.`)
    const alpha = new Uint8Array(rgba.length / 4)
    for (let i = 0; i < alpha.length; i++) alpha[i] = rgba[4 * i + 3]!
    return alpha
  }
  const grey = rgba ? greyOf(rgba) : brightnessOf(yuv)
  if (reading === 'black') for (let i = 0; i < grey.length; i++) grey[i] = 255 - grey[i]!
  return grey
}

/** Codes of grey, 0 to 255: a matte is numbers, not light. */
function greyOf(rgba: Uint8Array): Uint8Array {
  const [kr, kg, kb] = lumaWeights.bt709
  return Uint8Array.from({ length: rgba.length / 4 }, (_, i) =>
    Math.round(kr * rgba[4 * i]! + kg * rgba[4 * i + 1]! + kb * rgba[4 * i + 2]!),
  )
}

function brightnessOf(yuv: Yuv): Uint8Array {
  const levels = Uint8Array.from({ length: 256 }, (_, code) => {
    const level = Math.round(255 * brightnessOfCode(code, yuv.range))
    return level <= noise ? 0 : level >= 255 - noise ? 255 : level
  })
  return lumaOf(yuv, 1).data.map((code) => levels[code]!)
}

/** Between the centres of pixels, by lines; made smaller by the mean of what a pixel covers. */
function resized(levels: Uint8Array, width: number, height: number, to: { width: number; height: number }): Uint8Array {
  const across = weightsOf(width, to.width)
  const down = weightsOf(height, to.height)
  const rows = new Float32Array(to.width * height)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < to.width; x++) {
      const { first, weights } = across[x]!
      let sum = 0
      for (let i = 0; i < weights.length; i++) sum += weights[i]! * levels[y * width + first + i]!
      rows[y * to.width + x] = sum
    }
  const out = new Uint8Array(to.width * to.height)
  for (let y = 0; y < to.height; y++) {
    const { first, weights } = down[y]!
    for (let x = 0; x < to.width; x++) {
      let sum = 0
      for (let i = 0; i < weights.length; i++) sum += weights[i]! * rows[(first + i) * to.width + x]!
      out[y * to.width + x] = Math.round(sum)
    }
  }
  return out
}

/** What of `from` samples each of `to` takes: a triangle as wide as a sample of the coarser of both. */
function weightsOf(from: number, to: number): { first: number; weights: number[] }[] {
  const step = from / to
  const reach = Math.max(1, step)
  return Array.from({ length: to }, (_, i) => {
    const centre = (i + 0.5) * step - 0.5
    const [first, last] = [Math.max(0, Math.ceil(centre - reach)), Math.min(from - 1, Math.floor(centre + reach))]
    const weights = Array.from({ length: last - first + 1 }, (_, k) =>
      Math.max(0, 1 - Math.abs(first + k - centre) / reach),
    )
    const sum = weights.reduce((a, b) => a + b, 0)
    return { first, weights: weights.map((weight) => weight / sum) }
  })
}
