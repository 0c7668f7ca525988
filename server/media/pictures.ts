import { createReadStream } from 'node:fs'
import type { Readable } from 'node:stream'
import { promisify } from 'node:util'
import { createInflateRaw } from 'node:zlib'
import { imageSize } from 'image-size'
import yauzl from 'yauzl'
import { exrHead, exrMagic } from '#core/formats/exr.ts'
import { fileSize } from '#core/formats/fileSize.ts'
import { pngMagic } from '#core/formats/png.ts'
import { limits } from '#core/records/limits.ts'
import type { PictureCodec } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { Facts, PicturePlace } from './mediaFacts.ts'

/** Frames a second of a picture sequence until somebody says otherwise. */
export const usualRate = 24
/** The most that one picture may be, unpacked. */
const mostBytes = 256 * 1024 ** 2
/** The most that all pictures of a zip of so many bytes may be together: what is packed further is packed to do harm. */
const mostTogether = (bytes: number) => 1e9 + 200 * bytes
export function checkTogether(together: number, bytes: number): void {
  if (together > mostTogether(bytes))
    throw new HttpRefusal(
      422,
      say`The pictures of this zip take ${fileSize(together)} unpacked; at most ${fileSize(mostTogether(bytes))} fit. Make several shorter sequences of it.`,
    )
}
/** By here a picture has said how large it is; of what comes before, a camera's small preview is the largest. */
const headBytes = 2 * 1024 ** 2
const tailBytes = 64

const signatures: [PictureCodec | 'zip', number[]][] = [
  ['png', pngMagic],
  ['jpeg', [0xff, 0xd8, 0xff]],
  ['exr', exrMagic],
  ['zip', [0x50, 0x4b, 0x03, 0x04]],
]

/** What a file is by its first bytes: a picture, a zip that may hold a sequence of them, or something else. */
export async function pictureKind(file: string): Promise<PictureCodec | 'zip' | null> {
  const { head } = await ends(createReadStream(file, { end: 7 }))
  return signatureOf(head)
}

/** Whether a PNG holds more than one picture: its control chunk stands before the first of them (PNG, third edition, 11.3.7). */
export async function isAnimated(file: string): Promise<boolean> {
  const { head } = await ends(createReadStream(file, { end: headBytes }))
  const [control, first] = [head.indexOf('acTL', 0, 'latin1'), head.indexOf('IDAT', 0, 'latin1')]
  return control > 0 && (first < 0 || control < first)
}

/** Facts of a still, or of a zip of pictures in the order of the numbers in their names. */
export async function picturesOf(
  file: string,
  kind: PictureCodec | 'zip',
  hash: string,
  bytes: number,
): Promise<Facts> {
  const named =
    kind === 'zip'
      ? await entriesOf(file, bytes, shownPictures)
      : [{ name: 'picture', place: { at: 0, bytes, packed: false } satisfies PicturePlace }]
  const [first] = named
  if (!first && (await entriesOf(file, bytes, otherPictures)).length)
    throw new HttpRefusal(
      415,
      say`The pictures of this zip are no PNG, JPEG or OpenEXR, which is what comes in as it is. Save them as one of these first.`,
    )
  if (!first)
    throw new HttpRefusal(
      422,
      say`There is no picture in this zip that Wisp Trail knows. Put the numbered pictures of a sequence into it.`,
    )
  const called = (name: string) => (kind === 'zip' ? say`The picture ${name}` : say`The picture`)
  let one: { format: PictureCodec; width: number; height: number } | null = null
  let together = 0
  for (const { name, place } of named) {
    const own = await look(pictureAt(file, place), called(name))
    one ??= own
    checkTogether((together += own.length), bytes)
    if (own.width !== one.width || own.height !== one.height)
      throw new HttpRefusal(
        422,
        say`${called(name)} is ${own.width} x ${own.height} pixels, the first of the sequence ${one.width} x ${one.height}; all must have one size.`,
      )
  }
  const { format, width, height } = one!
  return {
    ...{ hash, bytes, codec: format, audio: '', width, height, rotation: 0, frames: named.length, rate: usualRate },
    ...{ variableRate: false, seconds: named.length / usualRate, matrix: 'bt709', range: 'full', tagged: true },
    times: named.map((_, i) => i / usualRate),
    pictures: named.map(({ place }) => place),
  }
}

/** The bytes of one picture of a stored file. The stream fails where the picture is damaged. */
export function pictureAt(file: string, { at, bytes, packed }: PicturePlace): Readable {
  if (bytes < 1) throw new Error('A picture has at least one byte.')
  const raw = createReadStream(file, { start: at, end: at + bytes - 1 })
  if (!packed) return raw
  const inflate = createInflateRaw()
  raw.on('error', (error) => inflate.destroy(error))
  inflate.on('close', () => raw.destroy())
  return raw.pipe(inflate)
}

/** The beginning and the end of a stream of any length, of which no more than that is held, and its length. */
async function ends(stream: Readable): Promise<{ head: Buffer; tail: Buffer; length: number }> {
  const head: Buffer[] = []
  let tail = Buffer.alloc(0)
  let length = 0
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    if (length < headBytes) head.push(chunk)
    tail = Buffer.concat([tail, chunk]).subarray(-tailBytes)
    length += chunk.length
    if (length > mostBytes) {
      stream.destroy()
      break
    }
  }
  return { head: Buffer.concat(head), tail, length }
}
const signatureOf = (head: Buffer) =>
  signatures.find(([, bytes]) => bytes.every((byte, i) => head[i] === byte))?.[0] ?? null

const damaged = (name: string) =>
  new HttpRefusal(422, say`${name} is damaged or cut short. Copy it from where it was made again.`)

const tooLarge = (name: string) =>
  new HttpRefusal(
    422,
    say`${name} is larger than ${fileSize(mostBytes)}, the most that one picture may take. Scale it down first.`,
  )

/** Size of a picture as it stands upright. It must be whole, and of a size that can be worked with. */
async function look(
  stream: Readable,
  name: string,
): Promise<{ format: PictureCodec; width: number; height: number; length: number }> {
  const { head, tail, length } = await ends(stream).catch(() => {
    throw damaged(name)
  })
  if (length > mostBytes) throw tooLarge(name)
  const format = signatureOf(head)
  if (format === null || format === 'zip') throw new HttpRefusal(422, say`${name} is no PNG, JPEG or OpenEXR.`)
  const size = format === 'exr' ? sizeOfExr(head, length, name) : sizeOf(format, head, tail)
  if (!size) throw damaged(name)
  const { width, height } = size
  const { min, max } = limits.side
  if (width < min || height < min)
    throw new HttpRefusal(
      422,
      say`${name} is ${width} x ${height} pixels; the smallest that can be worked with is ${min} x ${min}.`,
    )
  if (width > max || height > max || width * height > limits.pixels)
    throw new HttpRefusal(
      422,
      say`${name} is ${width} x ${height} pixels; the largest that fits is 4096 x 2304. Scale it down first.`,
    )
  return { format, width, height, length }
}

/** Size of a PNG or JPEG as it stands upright; null where it is not whole. */
function sizeOf(format: 'png' | 'jpeg', head: Buffer, tail: Buffer): { width: number; height: number } | null {
  // Both formats say where they end.
  const whole =
    format === 'png' ? tail.subarray(-8, -4).toString('latin1') === 'IEND' : tail.includes(Buffer.from([0xff, 0xd9]))
  if (!whole) return null
  try {
    const { width, height, orientation = 1 } = imageSize(head)
    return orientation > 4 ? { width: height, height: width } : { width, height }
  } catch {
    return null
  }
}

/** Size of an OpenEXR picture; null where it is not whole. What is not read as it is has to be converted. */
function sizeOfExr(head: Buffer, length: number, name: string): { width: number; height: number } | null {
  const exr = exrHead(head)
  if (!exr) return null
  if (exr.beyond)
    throw new HttpRefusal(
      415,
      say`${name} is OpenEXR ${exr.beyond}. Save it with one part, red, green and blue, and its whole picture.`,
    )
  // Who was stopped while writing has not said where its blocks are, or had no time to write them.
  return exr.blocks.some((at) => at < 8 || at + 8 >= length) ? null : exr
}

const byNumber = new Intl.Collator('en', { numeric: true })

/** The first byte of what is packed for an entry. */
const dataStart = (zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<number> =>
  new Promise((done, fail) =>
    zip.readLocalFileHeader(entry, { minimal: true }, (error, header) =>
      error ? fail(error) : done(header.fileDataStart),
    ),
  )

/** Names of pictures that the browser shows, and of those that have to be converted. */
const shownPictures = /\.(png|jpe?g|exr)$/i
export const otherPictures = /\.(tiff?|bmp|exr|webp|avif|heic|heif|dpx|tga|jp2)$/i

/** The pictures of a zip whose names are of a kind, in the order of their names. */
export async function entriesOf(
  file: string,
  bytes: number,
  kind: RegExp,
): Promise<{ name: string; place: PicturePlace }[]> {
  const broken = new HttpRefusal(422, say`The zip is damaged or cut short. Copy it from where it was made again.`)
  const zip = await promisify<string, yauzl.Options, yauzl.ZipFile>(yauzl.open)(file, {
    lazyEntries: true,
    autoClose: false,
  }).catch(() => {
    throw broken
  })
  try {
    const entries = await new Promise<yauzl.Entry[]>((done, fail) => {
      const all: yauzl.Entry[] = []
      zip.on('entry', (entry: yauzl.Entry) => {
        all.push(entry)
        zip.readEntry()
      })
      zip.on('end', () => done(all))
      zip.on('error', () => fail(broken))
      zip.readEntry()
    })
    const pictures = entries.filter(({ fileName }) => kind.test(fileName) && !/(^|\/)(\.|__MACOSX)/.test(fileName))
    const odd = pictures.find((entry) => entry.isEncrypted() || ![0, 8].includes(entry.compressionMethod))
    if (odd)
      throw new HttpRefusal(422, say`${odd.fileName} is locked or packed in an unusual way. Zip the pictures plainly.`)
    const large = pictures.find((entry) => entry.uncompressedSize > mostBytes)
    if (large) throw tooLarge(say`The picture ${large.fileName}`)
    checkTogether(
      pictures.reduce((sum, entry) => sum + entry.uncompressedSize, 0),
      bytes,
    )
    pictures.sort((a, b) => byNumber.compare(a.fileName, b.fileName))
    const places = []
    for (const entry of pictures) {
      // What a zip says of itself is not believed: an entry lies within the file and is not empty.
      if (entry.compressedSize < 1 || entry.compressedSize > bytes) throw broken
      const at = await dataStart(zip, entry).catch(() => {
        throw broken
      })
      if (at + entry.compressedSize > bytes) throw broken
      places.push({
        name: entry.fileName,
        place: { at, bytes: entry.compressedSize, packed: entry.compressionMethod === 8 },
      })
    }
    return places
  } finally {
    zip.close()
  }
}
