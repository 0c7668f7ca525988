import * as Comlink from 'comlink'
import type { DecodeWorker } from './decode.worker.ts'
import type { EncodeWorker } from './encode.worker.ts'
import type { FollowWorker } from '../following/follow.worker.ts'
import type { MotionWorker } from '../editor/motion.worker.ts'
import type { PaintWorker } from '../painting/paint.worker.ts'
import type { RenderWorker } from './render.worker.ts'

/** A running worker: what it does, and the way to end it. */
export interface Started<T> {
  remote: T
  stop: () => void
}
const started = <T>(worker: Worker): Started<T> => ({
  remote: Comlink.wrap(worker) as T,
  stop: () => worker.terminate(),
})

// The bundler finds workers by this very form of call.
export const startDecoder = () =>
  started<DecodeWorker>(new Worker(new URL('./decode.worker.ts', import.meta.url), { type: 'module' }))
export const startRenderer = () =>
  started<RenderWorker>(new Worker(new URL('./render.worker.ts', import.meta.url), { type: 'module' }))
export const startEncoder = () =>
  started<EncodeWorker>(new Worker(new URL('./encode.worker.ts', import.meta.url), { type: 'module' }))

export const startMotion = () =>
  started<MotionWorker>(new Worker(new URL('../editor/motion.worker.ts', import.meta.url), { type: 'module' }))

export const startFollower = () =>
  started<FollowWorker>(new Worker(new URL('../following/follow.worker.ts', import.meta.url), { type: 'module' }))

export const startPainter = () =>
  started<PaintWorker>(new Worker(new URL('../painting/paint.worker.ts', import.meta.url), { type: 'module' }))

// A classic script and not a module: see the file. Started when something is looked for, and not before.
export const startDetector = () => new Worker(new URL('../suggesting/detect.worker.ts', import.meta.url))

/** Render workers that this machine carries. */
export const rendererCount = (): number => Math.max(1, Math.min(4, navigator.hardwareConcurrency || 2))
