import { said, say } from '../say.ts'
import * as yup from 'yup'

/*
 * Sentences for whatever a schema does not say itself. They name a field as people know it, never by its path in a record.
 */

/** Names of fields that would not be understood as they are written. */
const known: Record<string, string> = {
  in: say`in point`,
  out: say`out point`,
  of: say`list of whom it is about`,
  on: say`switch`,
  from: say`first frame`,
  to: say`last frame`,
  tween: say`in-between`,
  hold: say`holding at the ends`,
  role: say`part in the matte`,
  ride: say`riding`,
  groupOpacity: say`strength of the group`,
  followed: say`confidence`,
  at: say`time`,
}

/** The field of a path as a word: 'region.soften' is the soften, 'points[3]' one of the points. */
export function fieldWord(path: string | undefined): string {
  const last = path
    ?.replace(/\[[^\]]*\]/g, '')
    .split('.')
    .at(-1)
  if (!last) return say`It`
  const words = known[last] ?? said(last.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`))
  return /\[\d+\]$/.test(path!) ? say`One of the ${words}` : say`The ${words}`
}
/** What a schema without fields of that name says. */
export const strangeFields =
  (what: string) =>
  ({ unknown }: { unknown: string | string[] }) =>
    say`${what} carries a field that does not belong there (${String(unknown)}).`

yup.setLocale({
  mixed: {
    default: ({ path }) => say`${fieldWord(path)} is not as it should be.`,
    required: ({ path }) => say`${fieldWord(path)} is missing.`,
    defined: ({ path }) => say`${fieldWord(path)} is missing.`,
    notNull: ({ path }) => say`${fieldWord(path)} is missing.`,
    oneOf: ({ path }) => say`${fieldWord(path)} is none of those that there are.`,
    notType: ({ path, type }) =>
      say`${fieldWord(path)} must be ${{ number: say`a number`, string: say`a text`, boolean: say`yes or no`, array: say`a list` }[type as 'number'] ?? say`of another form`}.`,
  },
  string: {
    max: ({ path, max }) => say`${fieldWord(path)} is too long; keep it under ${max} characters.`,
    min: ({ path, min }) => say`${fieldWord(path)} needs at least ${min} characters.`,
    matches: ({ path }) => say`${fieldWord(path)} is not written as it should be.`,
  },
  number: {
    min: ({ path, min }) => say`${fieldWord(path)} must be at least ${min}.`,
    max: ({ path, max }) => say`${fieldWord(path)} must be at most ${max}.`,
    moreThan: ({ path, more }) => say`${fieldWord(path)} must be more than ${more}.`,
    integer: ({ path }) => say`${fieldWord(path)} must be a whole number.`,
  },
  array: {
    min: ({ path, min }) => say`${fieldWord(path)} needs at least ${min}.`,
    max: ({ path, max }) => say`${fieldWord(path)} holds at most ${max}.`,
    length: ({ path, length }) => say`${fieldWord(path)} needs ${length}.`,
  },
  object: { noUnknown: strangeFields(say`It`) },
})
