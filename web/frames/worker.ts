import * as Comlink from 'comlink'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'

/** A running worker: what it does, and the way to end it. */
export interface Started<T> {
  remote: T
  stop: () => void
}

/** Why a call was given up: whoever started the worker ended it. Nobody needs to be told. */
export class WorkerEnded extends Error {
  // Known by its name: the class has another one once it is built.
  override readonly name = 'WorkerEnded'
  constructor() {
    super(say`The work was given up.`)
  }
}

type Calls = Record<string, (...given: unknown[]) => Promise<unknown>>

/**
 * A worker behind its functions. A call never hangs: where the worker dies, or is ended, all calls under way are refused;
 * where it died every later one, too. `does`: what it does, for the sentence that says so, as in 'make pictures'.
 */
export function started<T>(worker: Worker, does: string): Started<T> {
  const remote = Comlink.wrap(worker) as unknown as Calls
  const waiting = new Set<(error: Error) => void>()
  let over: Error | null = null
  const end = (error: Error): void => {
    over ??= error
    for (const refuse of waiting) refuse(over)
    waiting.clear()
  }
  worker.addEventListener('error', (event) => {
    // Else it would come up as an error of the page, too.
    event.preventDefault()
    console.error(event.message)
    end(new Refusal(say`What was to ${does} has failed. Try again; reload the page if it stays so.`))
  })
  const call = (name: string, given: unknown[]): Promise<unknown> =>
    new Promise((done, refuse) => {
      if (over) return refuse(over)
      waiting.add(refuse)
      remote[name]!(...given)
        .then(done, refuse)
        .finally(() => waiting.delete(refuse))
    })
  const guarded = new Proxy(remote, {
    // Without a 'then', or whoever waits for the worker itself would call it.
    get: (_, name) =>
      typeof name === 'string' && name !== 'then' ? (...given: unknown[]) => call(name, given) : undefined,
  })
  return {
    remote: guarded as T,
    stop() {
      worker.terminate()
      end(new WorkerEnded())
    },
  }
}
