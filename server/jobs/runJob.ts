import { fork } from 'node:child_process'
import { HttpRefusal } from '../http/refusal.ts'
import type { JobAnswer } from './answer.ts'
import { scriptOf } from './script.ts'

/** A job of the server, by its place below server/ without `.job.ts`. */
export type JobName = 'media/reading' | 'storage/backup' | 'rendering/rendering'

/**
 * Runs one piece of work in a process of its own: it delays no request, its memory is its own, and whatever it comes upon in
 * a file, the server goes on. `signal` ends it at once; the promise is rejected with the signal's reason. What the work
 * throws is thrown here.
 *
 * @param most - Megabytes of JavaScript objects that it may hold; beyond them it is ended.
 * @param told - Hears the news that it sends on its way.
 */
export async function runJob<T, N = never>(
  name: JobName,
  work: unknown,
  signal?: AbortSignal,
  most = 128,
  told: (news: N) => void = () => {},
): Promise<T> {
  signal?.throwIfAborted()
  const { file, options } = scriptOf(`${name}.job`)
  const child = fork(file, [], {
    execArgv: [`--max-old-space-size=${most}`, ...options],
    // Errors and buffers come over as what they are.
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  })
  const end = () => void child.kill('SIGKILL')
  signal?.addEventListener('abort', end)
  try {
    return await new Promise<T>((done, fail) => {
      child.on('message', (answer: JobAnswer<T, N>) => {
        if ('news' in answer) told(answer.news)
        else if ('result' in answer) done(answer.result)
        else fail('refused' in answer ? new HttpRefusal(answer.refused.status, answer.refused.sentence) : answer.error)
      })
      child.once('error', fail)
      child.once('exit', () => fail(signal?.reason ?? new Error(`The job ${name} ended without an answer.`)))
      child.send(work as object, (error) => error && fail(error))
    })
  } finally {
    signal?.removeEventListener('abort', end)
    end()
  }
}
