import { askAhead } from '../project/ahead.ts'

/** Where a project lies, and which step of it: `/project/ID/STEP`. */
const place = /^\/project\/([^/]+)(?:\/(\w+))?/

/** The shelf, the project's own page and those of its steps, each loaded when it is first gone to. */
export const pages = {
  shelf: () => import('./Shelf.vue'),
  project: () => import('./Project.vue'),
  footage: () => import('./Footage.vue'),
  trace: () => import('./Trace.vue'),
  charts: () => import('./Charts.vue'),
  effects: () => import('./Effects.vue'),
  sound: () => import('./Sound.vue'),
  output: () => import('./Output.vue'),
}

/** Begins to load what an address leads to, beside the frame that it stands in. What fails is said where it is gone to. */
export function loadAhead(path: string): void {
  const [, project, step = 'footage'] = place.exec(path) ?? []
  if (project) askAhead(decodeURIComponent(project))
  if (project && step !== 'footage')
    import('../frames/start.ts').then(
      ({ startEarly }) => startEarly(),
      () => {},
    )
  const needed = project ? ['project', step] : ['shelf']
  for (const page of needed) (pages as Record<string, () => Promise<unknown>>)[page]?.().catch(() => {})
}
