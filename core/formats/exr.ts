import { say } from '../say.ts'
import parseExr from 'parse-exr'
import { type StillPixels, stillOfLight } from '../pixels/buffers/still.ts'
import { Refusal } from '../refusal.ts'

/** What the header of an OpenEXR file says of its picture. */
export interface ExrHead {
  width: number
  height: number
  /** Why it is not read here but has to be converted first; '' where it is read. */
  beyond: string
  /** Where its blocks of lines begin, as bytes of the file: those that the bytes given tell; none of tiles, or where it is not read here. */
  blocks: number[]
}

/** The first four bytes of an OpenEXR file ("OpenEXR File Layout", magic number). */
export const exrMagic = [0x76, 0x2f, 0x31, 0x01]

/** Codes of compressions ("OpenEXR File Layout", attribute types): none, RLE, ZIPS, ZIP, PIZ, PXR24, with rows of a block. */
const rowsOfBlock = [1, 1, 1, 16, 32, 16]
const [half, float] = [1, 2]

/**
 * Reads the header of an OpenEXR file by its published layout ("OpenEXR File Layout"), from its first bytes. Null where it is none, or
 * is cut within its header.
 */
export function exrHead(bytes: Uint8Array): ExrHead | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  try {
    if (exrMagic.some((byte, i) => bytes[i] !== byte)) return null
    const flags = view.getUint32(4, true) >>> 8
    const attributes = new Map<string, number>()
    let at = 8
    const word = () => {
      const end = bytes.indexOf(0, at)
      if (end < 0 || end - at > 255) throw new RangeError('A name without an end.')
      const text = String.fromCharCode(...bytes.subarray(at, end))
      at = end + 1
      return text
    }
    for (let name = word(); name; name = word()) {
      word()
      const size = view.getInt32(at, true)
      if (size < 0) throw new RangeError('An attribute of no size.')
      attributes.set(name, at + 4)
      at += 4 + size
    }
    const placeOf = (name: string) => {
      const place = attributes.get(name)
      if (place === undefined) throw new RangeError(`No ${name}.`)
      return place
    }
    const box = (name: string) => [0, 4, 8, 12].map((i) => view.getInt32(placeOf(name) + i, true))
    const [data, shown] = [box('dataWindow'), box('displayWindow')]
    const [width, height] = [shown[2]! - shown[0]! + 1, shown[3]! - shown[1]! + 1]
    const channels = channelsAt(view, bytes, placeOf('channels'))
    const rows = rowsOfBlock[view.getUint8(placeOf('compression'))]
    const tiled = (flags & 2) !== 0
    // Lines from the top, or tiles of which the first level is the picture itself.
    const ordered = tiled ? (view.getUint8(placeOf('tiles') + 8) & 15) < 2 : view.getUint8(placeOf('lineOrder')) === 0
    const checks: [boolean, string][] = [
      [(flags & 24) === 0, 'of several parts or deep'],
      [rows !== undefined, 'packed in an unusual way'],
      [areUsual(channels), 'of unusual channels'],
      [shown[0] === 0 && shown[1] === 0 && data.every((side, i) => side === shown[i]), 'cropped'],
      [ordered, 'in an unusual order'],
    ]
    const beyond = checks.find(([well]) => !well)?.[1] ?? ''
    const blocks: number[] = []
    if (!beyond && !tiled)
      for (let i = 0; i < Math.ceil(height / rows!) && at + 8 * i + 8 <= bytes.length; i++)
        blocks.push(Number(view.getBigUint64(at + 8 * i, true)))
    return { width, height, beyond, blocks }
  } catch (error) {
    if (error instanceof RangeError) return null
    throw error
  }
}

interface Channel {
  name: string
  type: number
  /** Pixels from one sample to the next, the more of both ways. */
  steps: number
}
/** Grey, RGB or RGBA, all of half or all of float, a sample a pixel. */
function areUsual(channels: readonly Channel[]): boolean {
  const type = channels[0]?.type
  const known = ['B,G,R', 'A,B,G,R', 'Y'].includes(channels.map(({ name }) => name).join())
  return known && (type === half || type === float) && channels.every((one) => one.type === type && one.steps <= 1)
}

function channelsAt(view: DataView, bytes: Uint8Array, from: number): Channel[] {
  const channels: Channel[] = []
  let at = from
  while (bytes[at] !== 0) {
    const end = bytes.indexOf(0, at)
    if (end < 0) throw new RangeError('A channel without an end.')
    const name = String.fromCharCode(...bytes.subarray(at, end))
    const steps = Math.max(view.getInt32(end + 9, true), view.getInt32(end + 13, true))
    channels.push({ name, type: view.getInt32(end + 1, true), steps })
    at = end + 17
  }
  return channels
}

/**
 * An OpenEXR file of one part as its light: grey, RGB or RGBA of half or float, scanlines or tiles. Its colours are premultiplied, as the
 * format has it. Throws a Refusal where it can not be read.
 */
export function pixelsOfExr(file: Uint8Array): StillPixels {
  const head = exrHead(file)
  if (!head || head.beyond) throw damaged()
  const { width, height } = head
  let read: ReturnType<typeof parseExr>
  try {
    const bytes = file.slice()
    read = parseExr(bytes.buffer, 1015)
  } catch {
    throw damaged()
  }
  const channels = read.data.length / (width * height)
  const light = new Float32Array(4 * width * height)
  // The package gives the last row first.
  for (let y = 0, to = 0; y < height; y++)
    for (let x = 0; x < width; x++, to += 4) {
      const from = channels * ((height - 1 - y) * width + x)
      for (let c = 0; c < 3; c++) light[to + c] = read.data[channels === 1 ? from : from + c]!
      light[to + 3] = channels === 1 ? 1 : read.data[from + 3]!
    }
  return stillOfLight(light, width, height)
}

const damaged = () => new Refusal(say`The picture is damaged and can not be read. Bring it in again.`)
