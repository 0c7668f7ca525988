import { say } from '#core/say.ts'
import type { DecodeWorker } from './decode.worker.ts'
import type { EncodeWorker } from './encode.worker.ts'
import type { RenderWorker } from './render.worker.ts'
import type { SoundWorker } from './sound.worker.ts'
import { started } from './worker.ts'

// The bundler finds workers by this very form of call.
const newDecoder = () =>
  started<DecodeWorker>(
    new Worker(new URL('./decode.worker.ts', import.meta.url), { type: 'module' }),
    say`read the clip`,
  )
const newRenderer = () =>
  started<RenderWorker>(
    new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' }),
    say`draw the picture`,
  )
export const startEncoder = () =>
  started<EncodeWorker>(
    new Worker(new URL('./encode.worker.ts', import.meta.url), { type: 'module' }),
    say`write the file`,
  )
export const startSound = () =>
  started<SoundWorker>(
    new Worker(new URL('./sound.worker.ts', import.meta.url), { type: 'module' }),
    say`mix the sound`,
  )

/** Render workers that this machine carries. */
export const rendererCount = (): number => Math.max(1, Math.min(4, navigator.hardwareConcurrency || 2))

/** Workers that were started before they were asked for, with the page's own code. */
const early: { decoders: ReturnType<typeof newDecoder>[]; renderers: ReturnType<typeof newRenderer>[] } = {
  decoders: [],
  renderers: [],
}
/** Starts what makes pictures: it reads its code while the page reads its own. */
export function startEarly(): void {
  early.decoders.push(newDecoder())
  early.renderers.push(...Array.from({ length: rendererCount() }, newRenderer))
}
export const startDecoder = () => early.decoders.pop() ?? newDecoder()
export const startRenderer = () => early.renderers.pop() ?? newRenderer()
