import { toast } from 'vue-sonner'
import { isRefusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { heard } from '../language/heard.ts'

/** Troubles that are remembered. */
const most = 50
/** The latest troubles, oldest first, each as the lines a developer needs. Not kept beyond the page. */
const log: string[] = []

/** Names of errors that mean that somebody gave the work up: nobody has to be told. */
const givenUp = ['WorkerEnded', 'AbortError']
const isGivenUp = (error: unknown) => error instanceof Error && givenUp.includes(error.name)

/** Writes down what went wrong. `doing` completes "could not", as in 'make the pictures'. */
function note(error: unknown, doing: string): void {
  const what = error instanceof Error ? (error.stack ?? `${error.name}: ${error.message}`) : String(error)
  console.error(`Could not ${doing}:`, error)
  log.push(`${new Date().toISOString()} could not ${doing}\n${what}`)
  if (log.length > most) log.shift()
}

/**
 * What the user is told of an error: a refusal's own sentence; of anything else that it was not foreseen, with the rest in
 * the log. `doing` completes "could not".
 */
export function sentenceOf(error: unknown, doing: string): string {
  if (isRefusal(error)) return heard(error.message)
  note(error, doing)
  if (error instanceof Error && error.name === 'QuotaExceededError')
    return say`Wisp Trail could not ${doing}: this browser has no room left on its disk. Free some space and try again.`
  return say`Wisp Trail could not ${doing}, for a reason nobody foresaw. Try again; what you made is kept.`
}

/** Shows what went wrong, unless the work was given up. `id` lets a later word take its place. */
export function tell(error: unknown, doing: string, id?: string): void {
  if (isGivenUp(error)) return
  const sentence = sentenceOf(error, doing)
  const copy = { action: { label: say`Copy log`, onClick: copyLog }, duration: 15_000 }
  toast.error(sentence, { ...(id ? { id } : {}), ...(isRefusal(error) ? {} : copy) })
}

/** For work that nobody waits for: its failure is told. */
export function attend(work: Promise<unknown>, doing: string): void {
  work.catch((error: unknown) => tell(error, doing, doing))
}

/** The log for whoever helps: which browser, and what went wrong when. */
export const logText = (): string => [navigator.userAgent, ...log].join('\n\n')

function copyLog(): void {
  navigator.clipboard.writeText(logText()).then(
    () => toast(say`The log is copied.`, { id: 'log' }),
    // Without leave for the clipboard the log is shown, to be copied by hand.
    () => toast(logText(), { id: 'log', duration: 60_000 }),
  )
}

/** Whatever nobody else took care of. */
export function watchForTroubles(): void {
  window.addEventListener('unhandledrejection', (event) => {
    event.preventDefault()
    tell(event.reason, say`finish what it was doing`, 'unforeseen')
  })
  window.addEventListener('error', (event) => {
    // Chromium's word for a layout that takes one more turn; nothing is wrong then.
    if (event.message.startsWith('ResizeObserver loop')) return
    tell(event.error ?? event.message, say`finish what it was doing`, 'unforeseen')
  })
}
