import { dirname, join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { HttpRefusal } from '../http/refusal.ts'

/** A worker of the server, by its place below server/ without `.worker.ts`. */
export type WorkerName = 'media/reading' | 'storage/backup'

type Answer<T> = { result: T } | { refused: { status: number; sentence: string } } | { error: unknown }

/**
 * Runs one piece of work in a thread of its own, so that it delays no request, and ends the thread with it. `signal` ends
 * both at once; the promise is rejected with its reason. What the work throws is thrown here.
 *
 * @param most - Megabytes of JavaScript objects that it may hold; beyond them it is ended, and the server goes on.
 */
export async function inWorker<T>(name: WorkerName, work: unknown, signal?: AbortSignal, most = 128): Promise<T> {
  signal?.throwIfAborted()
  const own = import.meta.filename
  const source = own.endsWith('.ts')
  const file = source
    ? join(dirname(own), '..', `${name}.worker.ts`)
    : join(dirname(own), `${name.split('/')[1]}.worker.js`)
  const worker = new Worker(source ? join(dirname(own), 'fromSource.mjs') : file, {
    workerData: source ? { file, work } : { work },
    resourceLimits: { maxOldGenerationSizeMb: most, maxYoungGenerationSizeMb: 8 },
  })
  const ended = () => void worker.terminate().catch(() => {})
  signal?.addEventListener('abort', ended)
  try {
    return await new Promise<T>((done, fail) => {
      worker.once('message', (answer: Answer<T>) => {
        if ('result' in answer) done(answer.result)
        else fail('refused' in answer ? new HttpRefusal(answer.refused.status, answer.refused.sentence) : answer.error)
      })
      worker.once('error', fail)
      worker.once('exit', () => fail(signal?.reason ?? new Error(`The worker ${name} ended without an answer.`)))
    })
  } finally {
    signal?.removeEventListener('abort', ended)
    await worker.terminate()
  }
}
