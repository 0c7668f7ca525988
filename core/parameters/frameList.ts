/** Frames named in a text as in '12, 40, 61': in their order, each once. */
export const framesIn = (text: string): number[] =>
  [...new Set([...text.matchAll(/\d+/g)].map(([digits]) => Number(digits)))].sort((a, b) => a - b)

/** The text that names frames. */
export const frameText = (frames: readonly number[]): string => framesIn(frames.join(' ')).join(', ')
