import * as yup from 'yup'

/*
 * Sentences for whatever a schema does not say itself. They name a field as people know it, never by its path in a record.
 */

/** Names of fields that would not be understood as they are written. */
const known: Record<string, string> = {
  in: 'in point',
  out: 'out point',
  of: 'list of whom it is about',
  on: 'switch',
  from: 'first frame',
  to: 'last frame',
  tween: 'in-between',
  hold: 'holding at the ends',
  role: 'part in the matte',
  ride: 'riding',
  groupOpacity: 'strength of the group',
  followed: 'confidence',
  at: 'time',
}

/** The field of a path as a word: 'region.soften' is the soften, 'points[3]' one of the points. */
export function fieldWord(path: string | undefined): string {
  const last = path
    ?.replace(/\[[^\]]*\]/g, '')
    .split('.')
    .at(-1)
  if (!last) return 'It'
  const words = known[last] ?? last.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`)
  return /\[\d+\]$/.test(path!) ? `One of the ${words}` : `The ${words}`
}
/** What a schema without fields of that name says. */
export const strangeFields =
  (what: string) =>
  ({ unknown }: { unknown: string | string[] }) =>
    `${what} carries a field that does not belong there (${String(unknown)}).`

yup.setLocale({
  mixed: {
    default: ({ path }) => `${fieldWord(path)} is not as it should be.`,
    required: ({ path }) => `${fieldWord(path)} is missing.`,
    defined: ({ path }) => `${fieldWord(path)} is missing.`,
    notNull: ({ path }) => `${fieldWord(path)} is missing.`,
    oneOf: ({ path }) => `${fieldWord(path)} is none of those that there are.`,
    notType: ({ path, type }) =>
      `${fieldWord(path)} must be ${{ number: 'a number', string: 'a text', boolean: 'yes or no', array: 'a list' }[type as 'number'] ?? 'of another form'}.`,
  },
  string: {
    max: ({ path, max }) => `${fieldWord(path)} is too long; keep it under ${max} characters.`,
    min: ({ path, min }) => `${fieldWord(path)} needs at least ${min} characters.`,
    matches: ({ path }) => `${fieldWord(path)} is not written as it should be.`,
  },
  number: {
    min: ({ path, min }) => `${fieldWord(path)} must be at least ${min}.`,
    max: ({ path, max }) => `${fieldWord(path)} must be at most ${max}.`,
    moreThan: ({ path, more }) => `${fieldWord(path)} must be more than ${more}.`,
    integer: ({ path }) => `${fieldWord(path)} must be a whole number.`,
  },
  array: {
    min: ({ path, min }) => `${fieldWord(path)} needs at least ${min}.`,
    max: ({ path, max }) => `${fieldWord(path)} holds at most ${max}.`,
    length: ({ path, length }) => `${fieldWord(path)} needs ${length}.`,
  },
  object: { noUnknown: strangeFields('It') },
})
