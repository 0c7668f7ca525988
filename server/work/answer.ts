import { parentPort, workerData } from 'node:worker_threads'
import { HttpRefusal } from '../http/refusal.ts'

/** In a worker: does what was asked for and answers with it, or with what went wrong. */
export function answer<W, T>(work: (asked: W) => Promise<T> | T): void {
  Promise.resolve((workerData as { work: W }).work)
    .then(work)
    .then(
      (result) => parentPort!.postMessage({ result }),
      // Of errors only name and text cross over; a refusal takes its status along.
      (error: unknown) =>
        parentPort!.postMessage(
          error instanceof HttpRefusal ? { refused: { status: error.status, sentence: error.message } } : { error },
        ),
    )
}
