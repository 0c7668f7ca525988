/** Milliseconds for which an answer that was asked for ahead counts as what the project is now. */
const freshFor = 10_000

let waiting: { path: string; answer: Promise<Response>; at: number } | null = null

export const pathOfProject = (id: string): string => `/api/projects/${id}`

/** Asks for a project before there is anybody to open it: while the page still loads. */
export function askAhead(id: string): void {
  const answer = fetch(pathOfProject(id))
  // Whoever opens it asks again, and says what is wrong.
  answer.catch(() => {})
  waiting = { path: pathOfProject(id), answer, at: performance.now() }
}

/** The answer to what was asked ahead, once; null where there is none, it was no success, or it is old. */
export async function takeAhead(path: string): Promise<Response | null> {
  const taken = waiting
  waiting = null
  if (taken?.path !== path || performance.now() - taken.at > freshFor) return null
  const response = await taken.answer.catch(() => null)
  return response?.ok ? response : null
}
