import { uprightSize, uprightSteps, type Yuv } from './yuv.ts'

/** Brightness of one frame, reduced: a byte a pixel, row by row. `reduce`: plate pixels a pixel, per axis. */
export interface Luma {
  data: Uint8Array
  width: number
  height: number
  reduce: number
}

/** The brightness of a decoded frame, upright, each pixel the mean of `reduce` by `reduce` of the clip’s; the frame may come smaller. */
export function lumaOf(
  yuv: Yuv,
  reduce: number,
  room: (bytes: number) => Uint8Array = (bytes) => new Uint8Array(bytes),
): Luma {
  const upright = uprightSize(yuv)
  const by = reduce / (yuv.reduced ?? 1)
  const [width, height] = [Math.floor(upright.width / by), Math.floor(upright.height / by)]
  const data = room(width * height)
  const { offset, stride } = yuv.planes[0]!
  const { start, right, down } = uprightSteps(yuv.rotation, yuv.width, yuv.height, stride)
  const share = 1 / (by * by)
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let sum = 0
      for (let v = 0; v < by; v++) {
        let at = offset + start + x * by * right + (y * by + v) * down
        for (let u = 0; u < by; u++, at += right) sum += yuv.data[at]!
      }
      data[y * width + x] = sum * share
    }
  return { data, width, height, reduce }
}

/** How bright a code of luma looks, 0 for black and 1 for white (ITU-R BT.709-6, limited range 16 to 235). */
export const brightnessOfCode = (code: number, range: Yuv['range']): number =>
  Math.max(0, Math.min(1, range === 'limited' ? (code - 16) / 219 : code / 255))
