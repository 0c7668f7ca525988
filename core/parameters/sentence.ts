/** A piece of the sentence on a card: words, a field that cards of its sort have, or a setting. Both are edited in place. */
export type Piece<F extends string> = { text: string } | { field: F } | { setting: string }

/** Pieces of a sentence with fields and settings in braces, as in 'Lens of {strength} about {target}'. */
export function sentencePieces<F extends string>(template: string, fields: readonly F[]): Piece<F>[] {
  return template.split(/\{(\w+)\}/).flatMap((piece, i): Piece<F>[] => {
    if (i % 2) return [fields.includes(piece as F) ? { field: piece as F } : { setting: piece }]
    return piece.trim() ? [{ text: piece.trim() }] : []
  })
}
