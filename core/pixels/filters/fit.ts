import { type Scratch, Slot } from '../buffers/scratch.ts'
import { resampleAffine } from './warp.ts'

const slots = { fitted: new Slot(), fittedPart: new Slot() }

interface Size {
  width: number
  height: number
}

/** A picture (premultiplied RGBA floats) as large as it fits into another size, in its middle, on black. */
export function fitted(
  picture: Size & { data: Float32Array },
  { width, height }: Size,
  scratch: Scratch,
): Float32Array {
  if (picture.width === width && picture.height === height) return picture.data
  const out = scratch.floats(slots.fitted, 4 * width * height)
  for (let i = 0; i < out.length; i++) out[i] = i % 4 === 3 ? 1 : 0
  const ratio = Math.max(picture.width / width, picture.height / height)
  const inner = {
    width: Math.min(width, Math.round(picture.width / ratio)),
    height: Math.min(height, Math.round(picture.height / ratio)),
  }
  const rect = { x: (width - inner.width) >> 1, y: (height - inner.height) >> 1, ...inner }
  const part = scratch.floats(slots.fittedPart, 4 * rect.width * rect.height)
  const [sx, sy] = [picture.width / rect.width, picture.height / rect.height]
  const source = { x: 0, y: 0, width: picture.width, height: picture.height }
  resampleAffine(
    { data: picture.data, region: source },
    { data: part, region: rect },
    [sx, 0, 0, sy, -rect.x * sx, -rect.y * sy],
    'stretched',
    scratch,
  )
  for (let y = 0; y < rect.height; y++)
    out.set(part.subarray(4 * y * rect.width, 4 * (y + 1) * rect.width), 4 * ((rect.y + y) * width + rect.x))
  return out
}
