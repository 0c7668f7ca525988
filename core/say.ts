/*
 * What the program says. Every text that somebody reads is written where it is said, in English, and marked: `say` for a
 * text with its values, `said` for one that stands in a table. Who speaks another language is answered in it once the page
 * has chosen it (`speak`); the server, the workers and the tests speak English.
 */

/** A language that the program is spoken in. */
export interface Language {
  /**
   * The wording of an English text; `values` fill its slots {0}, {1} and so on, other braces stay as they are. `about`
   * tells apart what is one word in English only, as the frame of a clip and the one around a picture.
   */
  wording(text: string, values: readonly string[], about?: string): string
  /** A title as it stands within a sentence. */
  amid(title: string): string
  /** How a number is written, with so many decimals where `digits` is given. */
  number(value: number, digits?: number): string
}

/** Fills the slots of a wording; those without a value stay as they are. */
export const fill = (wording: string, values: readonly string[]): string =>
  wording.replace(/\{(\d)\}/g, (slot, index: string) => values[Number(index)] ?? slot)

const english: Language = {
  wording: fill,
  amid: (title) => title.toLowerCase(),
  number: (value, digits) => (digits === undefined ? String(value) : value.toFixed(digits)),
}
let language = english

/** From now on all is said in this language. To be called before tables of texts are imported: they are read once. */
export function speak(next: Language): void {
  language = next
}

/** The text of a template, its values as slots. */
export const slotted = (parts: readonly string[]): string =>
  parts.reduce((text, part, index) => `${text}{${index - 1}}${part}`)

/** A text with up to ten values, as in say`Frame ${frame}`: the wording may put them in another order. */
export const say = (parts: TemplateStringsArray, ...values: readonly (string | number)[]): string =>
  language.wording(
    slotted(parts),
    values.map((value) => (typeof value === 'number' ? language.number(value) : value)),
  )

/** The wording of a text that stands in a table or a description; `about` what, see {@link Language.wording}. */
export const said = (text: string, about?: string): string => language.wording(text, [], about)

/** A title as it stands within a sentence: in English in small letters. */
export const amid = (title: string): string => language.amid(title)

/** A number as the language writes it, with so many decimals where `digits` is given. */
export const decimals = (value: number, digits?: number): string => language.number(value, digits)
