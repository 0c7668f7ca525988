import { blade } from './blade.ts'

/** Every effect kind; a new one is its file and a line here. */
export const effectKinds = { blade }
