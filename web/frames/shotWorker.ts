import type { Started } from './worker.ts'

/** A worker that holds pictures of one cut of a shot: it is started when it is first needed, and another cut gets a fresh one. */
export function shotWorker<T>(start: () => Started<T>) {
  let running: Started<T> | null = null
  let known = ''
  const stop = (): void => {
    running?.stop()
    running = null
  }
  return {
    of(cut: string): T {
      if (known !== cut) stop()
      known = cut
      running ??= start()
      return running.remote
    },
    /** The one that runs; null where none does. */
    get running(): T | null {
      return running?.remote ?? null
    },
    /** Frees it and its pictures; what is under way is given up. */
    stop,
  }
}
