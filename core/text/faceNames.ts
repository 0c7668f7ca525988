import { faceCharacters } from './characters.generated.ts'

/** Typefaces that ship with the application. Their outlines are in faces.ts, for who draws. */
export const faceNames = {
  plain: 'plain',
  poster: 'poster',
  carved: 'carved capitals',
  typed: 'typed',
  written: 'written by hand',
} as const
export type FaceName = keyof typeof faceNames

/** The typeface's own name. */
export const faceTitle = (face: FaceName): string => faceCharacters[face].name

/** Characters of a text that a face does not have, each once. */
export const missingFrom = (face: FaceName, text: string): string[] => [
  ...new Set(
    [...text].filter((character) => character !== '\n' && !faceCharacters[face].characters.includes(character)),
  ),
]
