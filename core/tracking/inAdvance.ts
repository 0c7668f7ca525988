/** Things that are asked for before they are needed. */
const askedFor = 3

/**
 * Hands over `count` things one after the other, each asked for a few before it is needed: whoever makes them goes on while
 * the last ones are looked at. What fails says so when it is its turn.
 */
export function inAdvance<T>(count: number, make: (i: number) => Promise<T>): (i: number) => Promise<T> {
  const under: Promise<T>[] = []
  return (i) => {
    while (under.length < Math.min(count, i + askedFor)) {
      const next = make(under.length)
      next.catch(() => {})
      under.push(next)
    }
    return under[i]!
  }
}
