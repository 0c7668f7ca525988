import { once } from 'node:events'
import { createReadStream, createWriteStream } from 'node:fs'
import { mkdir, readdir, rm, stat } from 'node:fs/promises'
import { extname, join } from 'node:path'
import { Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { Zip, ZipPassThrough } from 'fflate'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'
import type { Converter } from './programs.ts'
import { type Source, sourceOf } from './source.ts'
import { checkTogether, entriesOf, otherPictures, pictureAt, pictureKind, usualRate } from '../media/pictures.ts'

/** Pictures of a sequence that was unpacked: files numbered from 1 on, by the pattern that ffmpeg reads. */
export interface Unpacked {
  pattern: string
  first: string
  count: number
}

/** Looks into a file as {@link sourceOf}; into a zip of pictures at the first of them, unpacked for that into `folder`. */
export async function sourceIn(
  converter: Converter,
  file: string,
  folder: string,
  stream?: number,
): Promise<Source | null> {
  try {
    const unpacked = await unpackSequence(file, folder, 1)
    if (!unpacked) return await sourceOf(converter, file, stream)
    const { first, count } = unpacked
    const source = await sourceOf(converter, first)
    const called = say`${source?.called ?? ''}, ${count} pictures`
    return source && { ...source, called, pictures: count, seconds: count / usualRate, rate: usualRate }
  } finally {
    await rm(folder, { recursive: true, force: true })
  }
}

/**
 * Unpacks the pictures of a zip into a folder, under names of our own; at most so many of them. Null where the file is no zip of
 * pictures. Throws a Refusal where they are not of one kind, or are packed to do harm.
 */
export async function unpackSequence(file: string, folder: string, most = Infinity): Promise<Unpacked | null> {
  if ((await pictureKind(file)) !== 'zip') return null
  const { size } = await stat(file)
  const entries = await entriesOf(file, size, otherPictures)
  if (entries.length === 0) return null
  const [ending, ...others] = new Set(entries.map(({ name }) => extname(name).toLowerCase()))
  if (others.length)
    throw new HttpRefusal(422, say`The pictures of this zip are ${ending!} and ${others[0]!}: all must be of one kind.`)
  await mkdir(folder, { recursive: true })
  let together = 0
  const count = () =>
    new Transform({
      transform(chunk: Buffer, _, done) {
        try {
          checkTogether((together += chunk.length), size)
          done(null, chunk)
        } catch (error) {
          done(error as Error)
        }
      },
    })
  const named = (number: number) => join(folder, `${String(number).padStart(7, '0')}${ending}`)
  for (const [i, { name, place }] of entries.slice(0, most).entries())
    await pipeline(pictureAt(file, place), count(), createWriteStream(named(i + 1))).catch((error: unknown) => {
      if (error instanceof HttpRefusal) throw error
      throw new HttpRefusal(
        422,
        say`The picture ${name} is damaged or cut short. Copy it from where it was made again.`,
      )
    })
  return { pattern: join(folder, `%07d${ending}`), first: named(1), count: entries.length }
}

/** Where ffmpeg writes the pictures that {@link packSequence} packs. */
export const picturePattern = (kind: string) => `%07d.${kind}`

/** Packs the numbered pictures of a folder into one zip, as they are: they are compressed already. Gives how many they are. */
export async function packSequence(folder: string, to: string): Promise<number> {
  const out = createWriteStream(to)
  const closed = new Promise<void>((done, fail) => out.once('close', done).once('error', fail))
  // It is waited for at every turn: a full disk ends it, wherever it is.
  closed.catch(() => {})
  const zip = new Zip((error, chunk, last) => {
    if (error) out.destroy(error)
    else out.write(chunk)
    if (last) out.end()
  })
  const names = (await readdir(folder)).filter((name) => /^\d{7}\.(png|exr)$/.test(name)).sort()
  for (const name of names) {
    const entry = new ZipPassThrough(name)
    zip.add(entry)
    for await (const piece of createReadStream(join(folder, name)) as AsyncIterable<Buffer>) {
      entry.push(piece)
      if (out.writableNeedDrain) await Promise.race([once(out, 'drain'), closed])
    }
    entry.push(new Uint8Array(), true)
  }
  zip.end()
  await closed
  return names.length
}
