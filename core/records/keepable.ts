import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'

/*
 * What a database and a file of text give back as it was put in. SQLite ends a text at a zero byte, half of a surrogate
 * pair is no UTF-8 (RFC 3629, section 3), and JSON has no infinity (RFC 8259, section 6).
 */

const unkeepable = /\0|\p{Surrogate}/u
/** Beyond every size, time and place that a project knows; smaller than what a double counts exactly. */
const largest = 1e15
const deepest = 20

export const isKeepable = (text: string): boolean => !unkeepable.test(text)

/** Throws a refusal where some value of a record, however deep, would not come back as it was sent. */
export function checkKeepable(value: unknown, what: string, depth = 0): void {
  if (typeof value === 'string' && !isKeepable(value))
    throw new Refusal(
      say`The ${what} holds a character that can not be kept. Type the text anew instead of pasting it.`,
    )
  if (typeof value === 'number' && !(Math.abs(value) <= largest))
    throw new Refusal(say`The ${what} holds a number that is beyond everything; give it one that can be.`)
  if (typeof value !== 'object' || value === null) return
  if (depth > deepest) throw new Refusal(say`The ${what} is nested deeper than anything that Wisp Trail makes.`)
  for (const [name, inner] of Object.entries(value)) {
    if (!isKeepable(name)) throw new Refusal(say`The ${what} carries a field whose name can not be kept.`)
    checkKeepable(inner, what, depth + 1)
  }
}
