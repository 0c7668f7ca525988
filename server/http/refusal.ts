import type { Response } from 'express'
import { isRefusal, Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { codesOf } from '../storage/errorCodes.ts'

/** A refusal with its status as an answer. */
export class HttpRefusal extends Refusal {
  readonly status: number
  constructor(status: number, sentence: string) {
    super(sentence)
    this.status = status
  }
}

/** Whether a file that was to be sent is not there. */
export const notFound = (error: unknown): boolean => (error as { status?: number }).status === 404

/** Aborted when whoever waits for the answer is gone. */
export function gone(response: Response): AbortSignal {
  const stop = new AbortController()
  response.on('close', () => response.writableFinished || stop.abort(new Error('The request was cancelled.')))
  return stop.signal
}

/** What goes wrong on the way to the disk, by the codes of SQLite and of the system. */
const ofTheDisk: [RegExp, number, string][] = [
  [
    /SQLITE_BUSY|SQLITE_LOCKED|database is locked/,
    503,
    say`The project database is in use by another program. Close it there; your change waits here and is sent again.`,
  ],
  [
    /ENOSPC|SQLITE_FULL|EDQUOT|EFBIG|disk is full/,
    507,
    say`The disk is full. Free some space and try again; nothing was changed.`,
  ],
  [
    /SQLITE_READONLY|EROFS|EACCES|EPERM/,
    507,
    say`The data folder can not be written to. Check its permissions and try again; nothing was changed.`,
  ],
  [
    /SQLITE_IOERR|SQLITE_CANTOPEN|\bEIO\b/,
    507,
    say`The disk of the data folder does not take what is written to it: it may be full or failing. Look after it and try again; nothing was changed.`,
  ],
  [
    /SQLITE_CORRUPT|SQLITE_NOTADB/,
    500,
    say`The project database is damaged. Stop Wisp Trail and start it again: it will offer the backups to go back to.`,
  ],
  [
    /SQLITE_CONSTRAINT/,
    422,
    say`The change names something that is not in this project any more. Reload the page to see its present state.`,
  ],
]

/** What the client itself did wrong, by the status that the framework or a parser gave it. */
const ofTheClient: Record<number, string> = {
  400: say`The request can not be read: its address or its body is damaged.`,
  404: say`There is no such file.`,
  413: say`That is more than the server takes at once. Send it in smaller pieces.`,
  415: say`The request is packed or written in a way that the server does not know.`,
  416: say`The file has no such range of bytes.`,
}

/** What the user is told of an error that nobody expected at its place; null for those without a good sentence. */
export function asRefusal(error: unknown): HttpRefusal | null {
  if (error instanceof HttpRefusal) return error
  if (isRefusal(error)) return new HttpRefusal(422, error.message)
  const known = ofTheDisk.find(([pattern]) => pattern.test(codesOf(error)))
  if (known) return new HttpRefusal(known[1], known[2])
  const { status, type } = (error ?? {}) as { status?: number; type?: string }
  if (type === 'entity.parse.failed') return new HttpRefusal(400, say`The request is not valid JSON.`)
  return status && ofTheClient[status] ? new HttpRefusal(status, ofTheClient[status]) : null
}
