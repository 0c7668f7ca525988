import { open } from 'node:fs/promises'
import { Readable } from 'node:stream'
import { text } from 'node:stream/consumers'
import { promisify } from 'node:util'
import yauzl from 'yauzl'
import yazl from 'yazl'
import { headTrouble, projectFileEntries as entries } from '#core/records/projectFile.ts'
import { RecordLines } from '#core/records/recordLines.ts'
import type { AnyRecord } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { RecordStream } from './projects.ts'

/** Bytes of the records of one project, unpacked: some forty times as much as an hour of painted mattes takes. */
const mostRecordBytes = 1024 ** 3
/** Records of one project. */
const mostRecords = 1_000_000
const mostThumbnailBytes = 1024 ** 2
/** Bytes of a text that is read at one go, where the records do not stand on lines of their own. */
const mostTextBytes = 64 * 1024 ** 2

/** A clip, and where it lies. */
export interface ClipFile {
  hash: string
  path: string
}

/** Packs a project: its records, these clips as they are, and the small picture, where there is one. `failed` hears of a disk that does not give a clip. */
export function packProject(
  records: RecordStream,
  clips: readonly ClipFile[],
  thumbnail: Buffer | null,
  failed: (error: Error) => void,
): Readable {
  const zip = new yazl.ZipFile()
  // It tells of errors of its entries like this; the types do not know.
  ;(zip as unknown as NodeJS.EventEmitter).on('error', failed)
  const text = Readable.from(records.text, { objectMode: false, highWaterMark: 2 ** 18 })
  text.on('close', () => records.close())
  zip.addReadStream(text, entries.records)
  if (thumbnail) zip.addBuffer(thumbnail, entries.thumbnail, { compress: false })
  // What is coded already does not get smaller.
  for (const { hash, path } of clips) zip.addFile(path, entries.media + hash, { compress: false })
  zip.end()
  return zip.outputStream as Readable
}

/** A project file that was opened. Nothing of it is believed: every entry is read up to what it may take, and no further. */
export interface OpenProjectFile {
  records: AnyRecord[]
  /** Small picture as a PNG; null where there is none. */
  thumbnail: Buffer | null
  /** Bytes of the clips inside, by the hashes that they are to have. */
  clips: ReadonlyMap<string, number>
  clip(hash: string): Promise<Readable>
  close(): void
}

const damaged = () =>
  new HttpRefusal(422, say`The project file is damaged or cut short. Copy it anew from where it was taken out.`)
const notOurs = () => new HttpRefusal(422, headTrouble(null))

/** Opens a project file and reads its records. Throws a refusal where it is none, is damaged, or holds more than any project. */
export async function openProjectFile(path: string): Promise<OpenProjectFile> {
  const head = await firstBytes(path)
  if (head.subarray(0, 2).toString('latin1') !== 'PK') throw notOurs()
  const zip = await promisify<string, yauzl.Options, yauzl.ZipFile>(yauzl.open)(path, {
    lazyEntries: true,
    autoClose: false,
  }).catch(() => {
    throw damaged()
  })
  try {
    const found = await entriesOf(zip)
    const stream = async (entry: yauzl.Entry): Promise<Readable> => {
      if (entry.isEncrypted() || ![0, 8].includes(entry.compressionMethod)) throw damaged()
      return promisify<yauzl.Entry, Readable>(zip.openReadStream.bind(zip))(entry)
    }
    const recordsEntry = found.get(entries.records)
    if (!recordsEntry) throw notOurs()
    if (recordsEntry.uncompressedSize > mostRecordBytes)
      throw new HttpRefusal(422, say`The records in this file are larger than those of any project. It was not opened.`)
    const records = await readRecords(await stream(recordsEntry), recordsEntry.uncompressedSize)
    const picture = found.get(entries.thumbnail)
    const thumbnail =
      picture && picture.uncompressedSize <= mostThumbnailBytes ? await bytesOf(await stream(picture)) : null
    const clips = new Map<string, number>()
    for (const [name, { uncompressedSize }] of found) {
      const hash = name.startsWith(entries.media) ? name.slice(entries.media.length) : ''
      if (/^[0-9a-f]{64}$/.test(hash)) clips.set(hash, uncompressedSize)
    }
    return {
      ...{ records, thumbnail, clips },
      clip: (hash) => stream(found.get(entries.media + hash)!),
      close: () => zip.close(),
    }
  } catch (error) {
    zip.close()
    throw error instanceof HttpRefusal ? error : damaged()
  }
}

async function firstBytes(path: string): Promise<Buffer> {
  const handle = await open(path)
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(4), 0, 4, 0)
    return buffer.subarray(0, bytesRead)
  } finally {
    await handle.close()
  }
}

function entriesOf(zip: yauzl.ZipFile): Promise<Map<string, yauzl.Entry>> {
  return new Promise((done, fail) => {
    const all = new Map<string, yauzl.Entry>()
    zip.on('entry', (entry: yauzl.Entry) => {
      all.set(entry.fileName, entry)
      zip.readEntry()
    })
    zip.on('end', () => done(all))
    zip.on('error', fail)
    zip.readEntry()
  })
}

async function readRecords(stream: Readable, bytes: number): Promise<AnyRecord[]> {
  const lines = new RecordLines()
  // A program that knows JSON only may have written it all on one line, or spread over many.
  const whole = bytes <= mostTextBytes ? await text(stream) : null
  try {
    if (whole !== null) lines.take(whole)
    else
      for await (const piece of stream.setEncoding('utf8')) {
        lines.take(piece as string)
        checkHead(lines.head)
        if (lines.records.length > mostRecords)
          throw new HttpRefusal(422, say`This file holds more records than any project has. It was not opened.`)
      }
    if (!lines.end()) throw damaged()
  } catch (error) {
    if (error instanceof HttpRefusal || whole === null) throw error
    return allAtOnce(whole)
  }
  checkHead(lines.head)
  return lines.records
}

function allAtOnce(whole: string): AnyRecord[] {
  const { records, ...head } = JSON.parse(whole) as Record<string, unknown>
  checkHead(head)
  if (!Array.isArray(records)) throw damaged()
  return records as AnyRecord[]
}

function checkHead(head: Record<string, unknown> | null): void {
  const trouble = headTrouble(head)
  if (trouble) throw new HttpRefusal(422, trouble)
}

async function bytesOf(stream: Readable): Promise<Buffer> {
  const parts: Buffer[] = []
  for await (const part of stream) parts.push(part as Buffer)
  return Buffer.concat(parts)
}
