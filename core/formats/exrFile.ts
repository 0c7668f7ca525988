import { zlibSync } from 'fflate'
import { halfBits } from '../pixels/buffers/half.ts'
import { exrMagic } from './exr.ts'

/** Rows that are packed together by the compression ZIP, and its code ("OpenEXR File Layout", attribute types). */
const [rowsOfBlock, zipCode] = [16, 3]

/**
 * Linear light, RGBA premultiplied by alpha, as an OpenEXR file of half floats, packed without loss ("OpenEXR File Layout": version 2, one
 * part, scanlines, ZIP). `channels`: which of it, in their alphabetical order, as the format has it; 'Y' is the first, for what is grey.
 * Primaries are those of BT.709, which is what the format means where it says nothing. `within`: the size of the picture that this is a
 * part of, and where in it the first pixel lies; readers put it there.
 */
export function exrOf(
  light: Float32Array,
  width: number,
  height: number,
  channels: readonly ('A' | 'B' | 'G' | 'R' | 'Y')[],
  within: { x: number; y: number; width: number; height: number } = { x: 0, y: 0, width, height },
): Uint8Array {
  const head = headOf({ x: within.x, y: within.y, width, height }, within, channels)
  const blocks: Uint8Array[] = []
  for (let y = 0; y < height; y += rowsOfBlock) {
    const rows = Math.min(rowsOfBlock, height - y)
    const plain = linesOf(light, width, y, rows, channels)
    const packed = zlibSync(predicted(plain), { level: 6 })
    // What does not get smaller stands as it is.
    blocks.push(packed.length < plain.length ? packed : plain)
  }
  const table = head.length
  let at = table + 8 * blocks.length
  const out = new Uint8Array(at + blocks.reduce((sum, block) => sum + 8 + block.length, 0))
  const view = new DataView(out.buffer)
  out.set(head)
  for (const [i, block] of blocks.entries()) {
    view.setBigUint64(table + 8 * i, BigInt(at), true)
    view.setInt32(at, within.y + i * rowsOfBlock, true)
    view.setInt32(at + 4, block.length, true)
    out.set(block, at + 8)
    at += 8 + block.length
  }
  return out
}

/** Rows as the format has them: of each row one channel after the other. */
function linesOf(
  light: Float32Array,
  width: number,
  from: number,
  rows: number,
  channels: readonly string[],
): Uint8Array {
  const out = new Uint8Array(2 * width * rows * channels.length)
  let to = 0
  for (let y = from; y < from + rows; y++)
    for (const channel of channels) {
      const c = channel === 'A' ? 3 : channel === 'B' ? 2 : channel === 'G' ? 1 : 0
      for (let i = 4 * y * width + c, end = i + 4 * width; i < end; i += 4, to += 2) {
        const half = halfBits(light[i]!)
        out[to] = half & 255
        out[to + 1] = half >>> 8
      }
    }
  return out
}

/** What ZIP packs: first all low bytes, then all high ones, each as its step from the one before (reference implementation, ImfZip). */
function predicted(plain: Uint8Array): Uint8Array {
  const out = new Uint8Array(plain.length)
  const half = (plain.length + 1) >> 1
  for (let i = 0; i < plain.length; i++) out[(i & 1) * half + (i >> 1)] = plain[i]!
  for (let i = out.length - 1; i > 0; i--) out[i] = out[i]! - out[i - 1]! + 128
  return out
}

/** Everything before the table of blocks. */
function headOf(
  data: { x: number; y: number; width: number; height: number },
  shown: { width: number; height: number },
  channels: readonly string[],
): Uint8Array {
  const bytes: number[] = [...exrMagic, 2, 0, 0, 0]
  const word = (text: string) => [...Array.from(text, (c) => c.charCodeAt(0)), 0]
  const int = (value: number) => [value & 255, (value >> 8) & 255, (value >> 16) & 255, (value >> 24) & 255]
  const real = (value: number) => [...new Uint8Array(Float32Array.of(value).buffer)]
  const attribute = (name: string, type: string, value: number[]) =>
    bytes.push(...word(name), ...word(type), ...int(value.length), ...value)
  const box = (x: number, y: number, width: number, height: number) =>
    [x, y, x + width - 1, y + height - 1].flatMap(int)
  const oneHalf = [...int(1), 0, 0, 0, 0, ...int(1), ...int(1)]
  attribute('channels', 'chlist', [...channels.flatMap((name) => [...word(name), ...oneHalf]), 0])
  attribute('compression', 'compression', [zipCode])
  attribute('dataWindow', 'box2i', box(data.x, data.y, data.width, data.height))
  attribute('displayWindow', 'box2i', box(0, 0, shown.width, shown.height))
  attribute('lineOrder', 'lineOrder', [0])
  attribute('pixelAspectRatio', 'float', real(1))
  attribute('screenWindowCenter', 'v2f', [...real(0), ...real(0)])
  attribute('screenWindowWidth', 'float', real(1))
  return Uint8Array.from([...bytes, 0])
}
