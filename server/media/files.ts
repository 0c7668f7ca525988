import { createHash, randomUUID } from 'node:crypto'
import { createWriteStream, type WriteStream } from 'node:fs'
import { copyFile, mkdir, open, rename, rm, stat, statfs } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { type Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { fileSize } from '#core/formats/fileSize.ts'
import { say } from '#core/say.ts'
import { HttpRefusal } from '../http/refusal.ts'

/** Where a file is written; tests put a full disk here. */
export type OpenFile = (path: string) => WriteStream
/** A file that came in whole. It is dropped again unless it is put somewhere. */
export interface Received {
  file: string
  hash: string
  bytes: number
  /**
   * Puts it where it belongs and then writes the row that makes it count. The file is on the disk before the row: a row
   * never stands for a file that is not there. Where the row can not be written the file is gone again.
   */
  put(to: string, record: () => Promise<unknown>): Promise<void>
}

/** Room that is left for the database and the system, whatever comes in. */
const spareBytes = 64 * 1024 ** 2

/**
 * The folders of the data folder. Every name inside is made here, from a content hash or an id that was checked;
 * nothing of a request reaches a path.
 */
export class Files {
  readonly folder: string
  readonly footage: string
  readonly outputs: string
  readonly thumbnails: string
  /** Clips as they came in that were converted, or are to be. */
  readonly originals: string
  /** Lighter copies of large clips, by the clip's hash: made anew where one is not there. */
  readonly lighter: string
  /** What is half-way in; emptied at the start. */
  readonly incoming: string
  private readonly open: OpenFile

  constructor(folder: string, open: OpenFile = (path) => createWriteStream(path, { flags: 'wx' })) {
    this.folder = folder
    this.footage = join(folder, 'footage')
    this.outputs = join(folder, 'outputs')
    this.thumbnails = join(folder, 'thumbnails')
    this.originals = join(folder, 'originals')
    this.lighter = join(folder, 'lighter')
    this.incoming = join(folder, 'incoming')
    this.open = open
  }

  /** Makes the folders; what was half-way in when the server stopped is gone. */
  async prepare(): Promise<void> {
    await rm(this.incoming, { recursive: true, force: true })
    const { footage, outputs, thumbnails, originals, lighter, incoming } = this
    for (const folder of [footage, outputs, thumbnails, originals, lighter, incoming])
      await mkdir(folder, { recursive: true })
  }

  thumbnailOf(project: string): string {
    return join(this.thumbnails, `${project}.png`)
  }

  /** Gives a copy of a project its small picture, where that has one. */
  async copyThumbnail(from: string, to: string): Promise<void> {
    await copyFile(this.thumbnailOf(from), this.thumbnailOf(to)).catch(() => {})
  }

  /** Throws a refusal where so many bytes do not fit on the disk; `what`: what they are of. */
  async askForRoom(bytes: number, what = say`The file takes`): Promise<void> {
    const free = await this.free()
    if (bytes > free) throw noRoom(`${what} ${fileSize(bytes)}`, free)
  }

  private async free(): Promise<number> {
    const { bavail, bsize } = await statfs(this.incoming)
    return Math.max(0, bavail * bsize - spareBytes)
  }

  /** A file of so many bytes of which only the ends are there, for as long as somebody works with it. */
  async withEnds<T>(head: Buffer, tail: Buffer, bytes: number, work: (file: string) => Promise<T>): Promise<T> {
    const file = join(this.incoming, randomUUID())
    try {
      const handle = await open(file, 'wx')
      try {
        await handle.write(head, 0, head.length, 0)
        if (sparse && tail.length) await handle.write(tail, 0, tail.length, bytes - tail.length)
      } finally {
        await handle.close()
      }
      return await work(file)
    } finally {
      await rm(file, { force: true })
    }
  }

  /**
   * Streams a request to a file of its own, hashing on the way, and hands it to `keep`. Whatever goes wrong, nothing
   * half-made stays; the request is not destroyed, or its sender would never hear why. However long it is, the disk is not
   * filled.
   */
  async receive<T>(request: Readable, limit: number, keep: (received: Received) => Promise<T>): Promise<T> {
    const file = join(this.incoming, randomUUID())
    const hash = createHash('sha256')
    let bytes = 0
    const free = await this.free()
    const count = new Transform({
      transform(chunk: Buffer, _, done) {
        bytes += chunk.length
        if (bytes > limit)
          return done(
            new HttpRefusal(
              413,
              say`The file is larger than ${fileSize(limit)}, the most that fits. Cut it into shorter clips.`,
            ),
          )
        if (bytes > free) return done(noRoom(say`The file takes more than ${fileSize(free)}`, free))
        hash.update(chunk)
        done(null, chunk)
      },
    })
    try {
      await pipeline(request.iterator({ destroyOnReturn: false }), count, this.open(file))
      const put = (to: string, record: () => Promise<unknown>) => putAway(file, to, record)
      return await keep({ file, hash: hash.digest('hex'), bytes, put })
    } finally {
      await rm(file, { force: true })
    }
  }
}

/** Puts a file where it belongs, and then writes the row that makes it count: see {@link Received.put}. */
export async function putAway(file: string, to: string, record: () => Promise<unknown>): Promise<void> {
  await flush(file)
  await rename(file, to)
  await flush(dirname(to))
  await record().catch(async (error: unknown) => {
    await rm(to, { force: true })
    throw error
  })
}

/** The same on a disk of Windows would write all that lies between. */
const sparse = process.platform !== 'win32'

const noRoom = (what: string, free: number) =>
  new HttpRefusal(
    507,
    say`${what}, but only ${fileSize(free)} are free on the disk of the data folder. Free some space and try again; nothing was kept.`,
  )

/** Whether a file is there with so many bytes. */
export async function isWhole(file: string, bytes: number): Promise<boolean> {
  return (await stat(file).catch(() => null))?.size === bytes
}

/** Brings a file, or the names in a folder, onto the disk: what the system only remembers is lost with the power. */
export async function flush(path: string): Promise<void> {
  const handle = await open(path, 'r')
  try {
    await handle.sync()
  } finally {
    await handle.close()
  }
}
