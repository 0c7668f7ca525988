import { join } from 'node:path'

/** The project's own folder. */
export const root = join(import.meta.dirname, '../..')

/** The demo's footage, with a truth file beside each clip. */
export const demoMedia = join(root, 'lab/demo/media')
