import { intersect, type Rect } from '../geometry/rect.ts'
import { uprightSize, uprightSteps, type Yuv } from '../pixels/buffers/yuv.ts'

/** What followers read of a frame: brightness at full size and the two colour differences at half, upright, 8 bits. */
export interface FollowPicture {
  width: number
  height: number
  luma: Uint8Array
  /** Size of the planes of colour: half of the picture's, rounded up. */
  chromaWidth: number
  chromaHeight: number
  u: Uint8Array
  v: Uint8Array
  /** Brightness reduced by 2, 4, 8 ...: each made when it is first asked for. */
  reduced: Float32Array[]
}

export function followPicture(yuv: Yuv): FollowPicture {
  const { width, height } = uprightSize(yuv)
  const [cw, ch] = [(yuv.width + 1) >> 1, (yuv.height + 1) >> 1]
  const turned = yuv.rotation % 180 !== 0
  return {
    ...{ width, height, chromaWidth: turned ? ch : cw, chromaHeight: turned ? cw : ch },
    luma: uprightPlane(yuv, 0, yuv.width, yuv.height),
    u: uprightPlane(yuv, 1, cw, ch),
    v: uprightPlane(yuv, 2, cw, ch),
    reduced: [],
  }
}

function uprightPlane({ data, planes, rotation }: Yuv, index: number, width: number, height: number): Uint8Array {
  const { offset, stride } = planes[index]!
  if (rotation === 0 && stride === width) return data.subarray(offset, offset + width * height)
  const out = new Uint8Array(width * height)
  const { start, right, down } = uprightSteps(rotation, width, height, stride)
  const [w, h] = rotation % 180 ? [height, width] : [width, height]
  for (let y = 0; y < h; y++) {
    let at = offset + start + y * down
    for (let x = 0; x < w; x++, at += right) out[y * w + x] = data[at]!
  }
  return out
}

/** A piece of a picture's brightness, softened a little: `step` plate pixels a pixel, its first corner at (x, y). */
export interface Piece {
  data: Float32Array
  width: number
  height: number
  x: number
  y: number
  step: number
}

/**
 * The brightness of a picture within a box of plate pixels, reduced by 2 to the power of `level` and softened by
 * [1 2 1] / 4, which takes grain off and makes values between pixels smoother than they are. What lies beyond the
 * picture is not in it; null where nothing of the box is.
 */
export function pieceOf(picture: FollowPicture, box: Rect, level: number): Piece | null {
  const step = 1 << level
  const whole = { x: 0, y: 0, width: Math.floor(picture.width / step), height: Math.floor(picture.height / step) }
  const x0 = Math.floor(box.x / step)
  const y0 = Math.floor(box.y / step)
  const wanted = {
    ...{ x: x0, y: y0 },
    width: Math.ceil((box.x + box.width) / step) - x0,
    height: Math.ceil((box.y + box.height) / step) - y0,
  }
  const { x, y, width, height } = intersect(wanted, whole)
  if (width < 3 || height < 3) return null
  const sharp = new Float32Array(width * height)
  const from = reducedLuma(picture, level)
  for (let j = 0; j < height; j++) {
    const at = (y + j) * whole.width + x
    sharp.set(from.subarray(at, at + width), j * width)
  }
  return { data: softened(sharp, width, height), width, height, x: x * step, y: y * step, step }
}

/** The whole brightness reduced by 2 to the power of `level`: means of 2 x 2, rows of floor(width / 2^level). */
function reducedLuma(picture: FollowPicture, level: number): Uint8Array | Float32Array {
  if (level === 0) return picture.luma
  const known = picture.reduced[level - 1]
  if (known) return known
  const row = picture.width >> (level - 1)
  const [width, height] = [picture.width >> level, picture.height >> level]
  const out = new Float32Array(width * height)
  // The same loop for bytes and for numbers: one that reads both takes twice the time.
  if (level === 1) {
    const { luma } = picture
    for (let y = 0; y < height; y++)
      for (let at = 2 * y * row, to = y * width, end = to + width; to < end; at += 2, to++)
        out[to] = 0.25 * (luma[at]! + luma[at + 1]! + luma[at + row]! + luma[at + row + 1]!)
  } else {
    const from = reducedLuma(picture, level - 1)
    for (let y = 0; y < height; y++)
      for (let at = 2 * y * row, to = y * width, end = to + width; to < end; at += 2, to++)
        out[to] = 0.25 * (from[at]! + from[at + 1]! + from[at + row]! + from[at + row + 1]!)
  }
  return (picture.reduced[level - 1] = out)
}

/** [1 2 1] / 4 along both axes, in place; at the rim the last value stands for what is beyond. */
export function softened(data: Float32Array, width: number, height: number): Float32Array {
  const rows = new Float32Array(data.length)
  for (let y = 0; y < height; y++)
    for (let x = 0, at = y * width; x < width; x++, at++)
      rows[at] = 0.25 * data[x ? at - 1 : at]! + 0.5 * data[at]! + 0.25 * data[x + 1 < width ? at + 1 : at]!
  for (let y = 0; y < height; y++) {
    const [above, below] = [y ? -width : 0, y + 1 < height ? width : 0]
    for (let x = 0, at = y * width; x < width; x++, at++)
      data[at] = 0.25 * rows[at + above]! + 0.5 * rows[at]! + 0.25 * rows[at + below]!
  }
  return data
}

/** Value between four pixels: `at` the upper left one, `row` numbers a row, (s, t) the share of the way to the others. */
export function bilinear(plane: Float32Array | Uint8Array, at: number, row: number, s: number, t: number): number {
  const top = plane[at]! + (plane[at + 1]! - plane[at]!) * s
  const below = plane[at + row]! + (plane[at + row + 1]! - plane[at + row]!) * s
  return top + (below - top) * t
}
