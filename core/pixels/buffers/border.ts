/** What is seen past the edge of a picture: its last pixels, the picture again, its mirror image, or nothing. */
export const borderModes = ['stretched', 'repeated', 'mirrored', 'nothing'] as const
export type BorderMode = (typeof borderModes)[number]

/** The pixel of a row of `n` that stands for the one at `i`; -1 for none. */
export function withinBorder(i: number, n: number, border: BorderMode): number {
  if (i >= 0 && i < n) return i
  if (border === 'nothing') return -1
  if (border === 'stretched') return i < 0 ? 0 : n - 1
  const size = border === 'repeated' ? n : 2 * n
  const at = ((i % size) + size) % size
  return at < n ? at : 2 * n - 1 - at
}
