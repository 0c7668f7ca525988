import { HttpRefusal } from '../http/refusal.ts'

/** What comes back from a job: of a refusal its status and sentence, of any other error what can be said of it. */
export type JobAnswer<T> = { result: T } | { refused: { status: number; sentence: string } } | { error: unknown }

/** In a job's process: does what is asked for, once, and answers. It ends with whoever asked. */
export function answer<W, T>(work: (asked: W) => Promise<T> | T): void {
  const say = (given: JobAnswer<T>) => void process.send!(given)
  process.once('disconnect', () => process.exit())
  process.once('message', (asked: W) => {
    Promise.resolve(asked)
      .then(work)
      .then(
        (result) => say({ result }),
        (error: unknown) =>
          say(
            error instanceof HttpRefusal ? { refused: { status: error.status, sentence: error.message } } : { error },
          ),
      )
  })
}
