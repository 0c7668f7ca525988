import { blade } from './blade.ts'
import { fill } from './fill.ts'
import { soften } from './soften.ts'

/** Every effect kind; a new one is its file and a line here. */
export const effectKinds = { blade, fill, soften }
