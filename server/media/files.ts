import { createHash, randomUUID } from 'node:crypto'
import { createWriteStream, type WriteStream } from 'node:fs'
import { mkdir, rename, rm } from 'node:fs/promises'
import { join } from 'node:path'
import { type Readable, Transform } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import { HttpRefusal } from '../http/refusal.ts'

/** Where a file is written; tests put a full disk here. */
export type OpenFile = (path: string) => WriteStream

/**
 * The folders of the data folder. Every name inside is made here, from a content hash or an id that was checked;
 * nothing of a request reaches a path.
 */
export class Files {
  readonly footage: string
  readonly outputs: string
  readonly thumbnails: string
  private readonly incoming: string
  private readonly open: OpenFile

  constructor(folder: string, open: OpenFile = (path) => createWriteStream(path, { flags: 'wx' })) {
    this.footage = join(folder, 'footage')
    this.outputs = join(folder, 'outputs')
    this.thumbnails = join(folder, 'thumbnails')
    this.incoming = join(folder, 'incoming')
    this.open = open
  }

  /** Makes the folders; what was half-way in when the server stopped is gone. */
  async prepare(): Promise<void> {
    await rm(this.incoming, { recursive: true, force: true })
    for (const folder of [this.footage, this.outputs, this.thumbnails, this.incoming])
      await mkdir(folder, { recursive: true })
  }

  /**
   * Streams a request to a file of its own, hashing on the way, and hands it to `keep`, which says where it belongs
   * (or null to drop it). Whatever goes wrong, nothing half-made stays.
   */
  async receive<T>(
    request: Readable,
    limit: number,
    keep: (file: string, hash: string, bytes: number) => Promise<{ to: string | null; result: T }>,
  ): Promise<T> {
    const file = join(this.incoming, randomUUID())
    const hash = createHash('sha256')
    let bytes = 0
    const count = new Transform({
      transform(chunk: Buffer, _, done) {
        bytes += chunk.length
        if (bytes > limit)
          return done(
            new HttpRefusal(
              413,
              `The file is larger than ${Math.round(limit / 1024 ** 2)} MB, the most that fits. Cut it into shorter clips.`,
            ),
          )
        hash.update(chunk)
        done(null, chunk)
      },
    })
    try {
      await pipeline(request, count, this.open(file))
      const { to, result } = await keep(file, hash.digest('hex'), bytes)
      if (to) await rename(file, to)
      return result
    } finally {
      await rm(file, { force: true })
    }
  }
}
