import { isRefusal } from '#core/refusal.ts'
import { HttpRefusal } from '../http/refusal.ts'

/** What comes back from a job: news on its way, then of a refusal its status and sentence, of any other error what can be said of it. */
export type JobAnswer<T, N = unknown> =
  { news: N } | { result: T } | { refused: { status: number; sentence: string } } | { error: unknown }

/** In a job's process: does what is asked for, once, and answers; `tell` sends news on the way. It ends with whoever asked. */
export function answer<W, T, N = never>(work: (asked: W, tell: (news: N) => void) => Promise<T> | T): void {
  const say = (given: JobAnswer<T, N>) => void process.send!(given)
  process.once('disconnect', () => process.exit())
  process.once('message', (asked: W) => {
    Promise.resolve(asked)
      .then((given) => work(given, (news) => say({ news })))
      .then(
        (result) => say({ result }),
        (error: unknown) => {
          const status = error instanceof HttpRefusal ? error.status : isRefusal(error) ? 422 : 0
          say(status ? { refused: { status, sentence: (error as Error).message } } : { error })
        },
      )
  })
}
