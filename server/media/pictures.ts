import { open } from 'node:fs/promises'
import { promisify } from 'node:util'
import { inflateRaw } from 'node:zlib'
import { imageSize } from 'image-size'
import yauzl from 'yauzl'
import { limits } from '#core/records/limits.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { Facts, PicturePlace } from './mediaFacts.ts'

export type PictureFormat = 'png' | 'jpeg'

/** Frames a second of a picture sequence until somebody says otherwise. */
const usualRate = 24
/** The most that one picture may be, unpacked. */
const mostBytes = 256 * 1024 ** 2

const signatures: [PictureFormat | 'zip', number[]][] = [
  ['png', [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]],
  ['jpeg', [0xff, 0xd8, 0xff]],
  ['zip', [0x50, 0x4b, 0x03, 0x04]],
]

/** What a file is by its first bytes: a picture, a zip that may hold a sequence of them, or something else. */
export async function pictureKind(file: string): Promise<PictureFormat | 'zip' | null> {
  const start = await slice(file, 0, 8)
  return signatures.find(([, bytes]) => bytes.every((byte, i) => start[i] === byte))?.[0] ?? null
}

/** Facts of a still, or of a zip of pictures in the order of the numbers in their names. */
export async function picturesOf(
  file: string,
  kind: PictureFormat | 'zip',
  hash: string,
  bytes: number,
): Promise<Facts> {
  const named =
    kind === 'zip'
      ? await entriesOf(file)
      : [{ name: 'picture', place: { at: 0, bytes, packed: false } satisfies PicturePlace }]
  const [first] = named
  if (!first)
    throw new HttpRefusal(
      422,
      'There is no PNG or JPEG picture in this zip. Put the numbered pictures of a sequence into it.',
    )
  if (named.length > limits.frames)
    throw new HttpRefusal(
      422,
      `The sequence has ${named.length} pictures; at most ${limits.frames} fit. Cut it into shorter ones.`,
    )
  const called = (name: string) => (kind === 'zip' ? `The picture ${name}` : 'The picture')
  let one: { format: PictureFormat; width: number; height: number } | null = null
  for (const { name, place } of named) {
    const own = look(await pictureAt(file, place), called(name))
    one ??= own
    if (own.width !== one.width || own.height !== one.height)
      throw new HttpRefusal(
        422,
        `${called(name)} is ${own.width} x ${own.height} pixels, the first of the sequence ${one.width} x ${one.height}; all must have one size.`,
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

/** The bytes of one picture of a stored file. */
export async function pictureAt(file: string, { at, bytes, packed }: PicturePlace): Promise<Buffer> {
  const raw = await slice(file, at, bytes)
  return packed ? promisify(inflateRaw)(raw, { maxOutputLength: mostBytes }) : raw
}

async function slice(file: string, at: number, bytes: number): Promise<Buffer> {
  const handle = await open(file)
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(bytes), 0, bytes, at)
    return buffer.subarray(0, bytesRead)
  } finally {
    await handle.close()
  }
}

const damaged = (name: string) =>
  new HttpRefusal(422, `${name} is damaged or cut short. Copy it from where it was made again.`)

/** Size of a picture as it stands upright. It must be whole, and of a size that can be worked with. */
function look(data: Buffer, name: string): { format: PictureFormat; width: number; height: number } {
  const format = signatures.find(([, bytes]) => bytes.every((byte, i) => data[i] === byte))?.[0]
  if (format !== 'png' && format !== 'jpeg') throw new HttpRefusal(422, `${name} is no PNG and no JPEG.`)
  // Both formats say where they end.
  const whole =
    format === 'png'
      ? data.subarray(-8, -4).toString('latin1') === 'IEND'
      : data.includes(Buffer.from([0xff, 0xd9]), -64)
  if (!whole) throw damaged(name)
  let size: ReturnType<typeof imageSize>
  try {
    size = imageSize(data)
  } catch {
    throw damaged(name)
  }
  const [width, height] = (size.orientation ?? 1) > 4 ? [size.height, size.width] : [size.width, size.height]
  const { min, max } = limits.side
  if (width < min || height < min)
    throw new HttpRefusal(
      422,
      `${name} is ${width} x ${height} pixels; the smallest that can be worked with is ${min} x ${min}.`,
    )
  if (width > max || height > max || width * height > limits.pixels)
    throw new HttpRefusal(
      422,
      `${name} is ${width} x ${height} pixels; the largest that fits is 4096 x 2304. Scale it down first.`,
    )
  return { format, width, height }
}

const byNumber = new Intl.Collator('en', { numeric: true })

/** The first byte of what is packed for an entry. */
const dataStart = (zip: yauzl.ZipFile, entry: yauzl.Entry): Promise<number> =>
  new Promise((done, fail) =>
    zip.readLocalFileHeader(entry, { minimal: true }, (error, header) =>
      error ? fail(error) : done(header.fileDataStart),
    ),
  )

/** The pictures of a zip in the order of their names. */
async function entriesOf(file: string): Promise<{ name: string; place: PicturePlace }[]> {
  const broken = new HttpRefusal(422, 'The zip is damaged or cut short. Copy it from where it was made again.')
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
    const pictures = entries.filter(
      ({ fileName }) => /\.(png|jpe?g)$/i.test(fileName) && !/(^|\/)(\.|__MACOSX)/.test(fileName),
    )
    const odd = pictures.find((entry) => entry.isEncrypted() || ![0, 8].includes(entry.compressionMethod))
    if (odd)
      throw new HttpRefusal(422, `${odd.fileName} is locked or packed in an unusual way. Zip the pictures plainly.`)
    pictures.sort((a, b) => byNumber.compare(a.fileName, b.fileName))
    const places = []
    for (const entry of pictures) {
      if (entry.uncompressedSize > mostBytes)
        throw new HttpRefusal(422, `${entry.fileName} is too large for a picture.`)
      const at = await dataStart(zip, entry).catch(() => {
        throw broken
      })
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
