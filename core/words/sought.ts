/** Words of a text, in small letters. */
const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []

/** Whether every word that was typed begins one of the text's; true for nothing typed. */
export function answers(typed: string, text: string): boolean {
  const own = wordsOf(text)
  return wordsOf(typed).every((word) => own.some((one) => one.startsWith(word)))
}

/**
 * Those of a list that answer what was typed, in the order of the list: by their names first, then by what is said of
 * them, then by words by which somebody looks who does not know what a thing is called here. All of them for ''.
 */
export function soughtIn<T>(
  typed: string,
  list: readonly T[],
  textsOf: (one: T) => { name: string; says?: string; words?: string },
): T[] {
  const ranks = list.map((one) => {
    const { name, says = '', words = '' } = textsOf(one)
    const texts = [name, `${name} ${says}`, `${name} ${says} ${words}`]
    const rank = texts.findIndex((text) => answers(typed, text))
    return rank < 0 ? texts.length : rank
  })
  return [0, 1, 2].flatMap((rank) => list.filter((_, i) => ranks[i] === rank))
}
