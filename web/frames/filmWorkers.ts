import type { EncodeWorker } from './encode.worker.ts'
import type { RenderWorker } from './render.worker.ts'
import { rendererCount, startEncoder, startRenderer } from './start.ts'
import type { Started } from './worker.ts'

/*
 * Workers that made a film are kept for the next one: new ones read their code for half a second, and the first fifty frames take
 * twice as long as all others, until the browser has compiled what they need for speed.
 */

/** What makes a film: as many renderers as this machine carries, and an encoder. */
export interface FilmWorkers {
  encoder: Started<EncodeWorker>
  renderers: Started<RenderWorker>[]
}

let spare: FilmWorkers | null = null
let leaving: ReturnType<typeof setTimeout> | undefined
/** Milliseconds for which they wait for work: they hold the memory of their pictures. */
const patience = 30_000

export const stopFilmWorkers = ({ encoder, renderers }: FilmWorkers): void => {
  for (const { stop } of [encoder, ...renderers]) stop()
}

/** Workers for whoever gives them back or stops them. */
export function borrowFilmWorkers(): FilmWorkers {
  clearTimeout(leaving)
  const workers = spare ?? {
    encoder: startEncoder(),
    renderers: Array.from({ length: rendererCount() }, startRenderer),
  }
  spare = null
  return workers
}

/** Takes back workers that have nothing under way; with none it lets go of those that wait. */
export function giveBack(workers: FilmWorkers | null): void {
  clearTimeout(leaving)
  if (spare) stopFilmWorkers(spare)
  spare = workers
  if (spare) leaving = setTimeout(() => giveBack(null), patience)
}

/** Has workers ready for a film that is likely to be asked for. */
export const readyFilmWorkers = (): void => giveBack(borrowFilmWorkers())
