import { Refusal } from '#core/refusal.ts'

/** A refusal with its status as an answer. */
export class HttpRefusal extends Refusal {
  readonly status: number
  constructor(status: number, sentence: string) {
    super(sentence)
    this.status = status
  }
}

const code = (error: unknown): string => String((error as { code?: unknown } | null)?.code ?? '')

/** What the user is told of an error that nobody expected at its place; null for those without a good sentence. */
export function asRefusal(error: unknown): HttpRefusal | null {
  if (error instanceof HttpRefusal) return error
  const all = `${code(error)} ${code((error as { driverError?: unknown } | null)?.driverError)} ${(error as Error | null)?.message ?? ''}`
  if (/SQLITE_BUSY|SQLITE_LOCKED|database is locked/.test(all))
    return new HttpRefusal(
      503,
      'The project database is in use by another program. Close it there; your change waits here and is sent again.',
    )
  if (/ENOSPC|SQLITE_FULL|EDQUOT|disk is full/.test(all))
    return new HttpRefusal(507, 'The disk is full. Free some space and try again; nothing was changed.')
  if (/SQLITE_READONLY|EROFS|EACCES/.test(all))
    return new HttpRefusal(
      507,
      'The data folder can not be written to. Check its permissions and try again; nothing was changed.',
    )
  if (/SQLITE_CONSTRAINT/.test(all))
    return new HttpRefusal(
      422,
      'The change names something that is not in this project any more. Reload the page to see its present state.',
    )
  if ((error as { type?: string } | null)?.type === 'entity.too.large')
    return new HttpRefusal(413, 'That is more than the server takes at once. Send it in smaller pieces.')
  if ((error as { type?: string } | null)?.type === 'entity.parse.failed')
    return new HttpRefusal(400, 'The request is not valid JSON.')
  return null
}
