/** In a worker, for work that nobody waits for: its failure becomes the worker's own, which whoever started it is told of. */
export function raise(error: unknown): void {
  setTimeout(() => {
    throw error
  })
}
