import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'
import type { AnyRecord } from './types.ts'

/** Letters of the longest line: a key with its painted matte, and room to spare. */
const longestLine = 16_000_000

/**
 * Reads `{…, "records": [` on one line, then a record a line, then `]}` on the last, from pieces of text of any length: what
 * is large is never one text. `pieces` that end before the last line are cut short, and `done` stays false.
 */
export class RecordLines {
  readonly records: AnyRecord[] = []
  /** What stands before the records; null until that was read. */
  head: Record<string, unknown> | null = null
  /** Whether all was read to its last line. */
  done = false
  private rest = ''

  /** Takes the next piece. Throws a SyntaxError where a line is no JSON, a {@link Refusal} where it is not written like this. */
  take(piece: string): void {
    const lines = (this.rest + piece).split('\n')
    this.rest = lines.pop()!
    for (const line of lines) this.read(line)
    if (this.rest.length > longestLine) throw new Refusal(say`A line of it is longer than any record is.`)
  }

  /** After the last piece: whether it was whole. */
  end(): boolean {
    this.read(this.rest)
    this.rest = ''
    return this.done
  }

  private read(line: string): void {
    if (this.done || !line) return
    if (!this.head) {
      if (!line.endsWith('"records":[')) throw new Refusal(say`It does not begin as records do.`)
      this.head = JSON.parse(`${line}]}`) as Record<string, unknown>
    } else if (line === ']}') this.done = true
    else this.records.push(JSON.parse(line.endsWith(',') ? line.slice(0, -1) : line) as AnyRecord)
  }
}
