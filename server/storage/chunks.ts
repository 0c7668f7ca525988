/** A list in pieces of at most so many. */
export function* chunks<T>(list: T[], size: number): Generator<T[]> {
  for (let i = 0; i < list.length; i += size) yield list.slice(i, i + size)
}

/** Texts joined to pieces of about so many letters: a stream takes as long for a short one as for a long one. */
export function* joined(texts: Iterable<string>, letters: number): Generator<string> {
  let piece = ''
  for (const text of texts) {
    piece += text
    if (piece.length < letters) continue
    yield piece
    piece = ''
  }
  if (piece) yield piece
}
