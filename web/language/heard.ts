import { fill } from '#core/say.ts'

let rewording = (sentence: string): string => sentence

/** A sentence that the server or a worker has said in English, in the language of the page. */
export const heard = (sentence: string): string => rewording(sentence)

/** From now on what is heard is said so. */
export function hear(by: (sentence: string) => string): void {
  rewording = by
}

/** Letters outside its slots from which a text is known for sure by them. */
const sure = 8

/**
 * Finds English sentences again in a language's wordings and says them anew, their values too: what a worker or the
 * server says is made there. What is not among the wordings stays as it is.
 */
export function reworded(wordings: Readonly<Record<string, string>>): (sentence: string) => string {
  const patterns = Object.keys(wordings)
    .filter((text) => /\{\d\}/.test(text))
    .map((text) => ({ text, letters: text.replace(/\{\d\}/g, '').length }))
    .filter(({ letters }) => letters >= sure)
    .sort((one, other) => other.letters - one.letters)
    .map(({ text }) => ({ text, slots: slotsOf(text), pattern: patternOf(text) }))
  const again = (sentence: string): string => {
    if (Object.hasOwn(wordings, sentence)) return wordings[sentence]!
    for (const { text, slots, pattern } of patterns) {
      const found = pattern.exec(sentence)
      if (!found) continue
      const values: string[] = []
      slots.forEach((slot, i) => (values[slot] = again(found[i + 1]!)))
      return fill(wordings[text]!, values)
    }
    return sentence
  }
  return again
}

const slotsOf = (text: string): number[] => [...text.matchAll(/\{(\d)\}/g)].map(([, slot]) => Number(slot))
const patternOf = (text: string): RegExp =>
  new RegExp(
    `^${text
      .split(/\{\d\}/)
      .map((piece) => piece.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
      .join('(.+?)')}$`,
    's',
  )
