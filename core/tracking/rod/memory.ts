import type { Rgba } from '../../pixels/buffers/picture.ts'
import { startKernels } from '../../pixels/kernels/engine.ts'
import type { KernelEngine, Kernels, PlacesLook } from '../../pixels/kernels/interface.ts'
import { plainKernels } from '../../pixels/kernels/plain.ts'
import type { ByteView } from '../../pixels/kernels/station.ts'
import type { Backdrop } from '../background.ts'

/*
 * What the follower of rods looks at, where the compiled kernels find it: the view of one frame, and what stands behind. Many
 * things are asked of one frame in a row, so that it is brought there once.
 */

let engine: KernelEngine | null | undefined
/** Half-size pixels of a frame of 4096 x 2304: larger ones are for the plain kernels. */
const mostPixels = 2048 * 1152
const viewBytes = 8
const behindBytes = 16
/** Looks of hands that lie there at a time, and bytes of each. */
const mostLooks = 8
const lookBytes = 2 ** 14
const engineBytes = (viewBytes + behindBytes) * mostPixels + mostLooks * lookBytes + 2 ** 20

let viewed: { of: Uint8Array; view: ByteView } | null = null
const looks: { of: PlacesLook; look: PlacesLook }[] = []
let nextLook = 0
let backed: { of: Backdrop; picture: Rgba } | null = null

const startFor = ({ width, height }: { width: number; height: number }): KernelEngine | null => {
  engine = engine === undefined ? startKernels(engineBytes) : engine
  return engine && width * height <= mostPixels ? engine : null
}

/** A view as kernels find it, a copy unless they are the plain ones. */
export function viewInMemory(view: ByteView): { kernels: Kernels; view: ByteView } {
  const own = startFor(view)
  if (!own) return { kernels: plainKernels, view }
  if (viewed?.of !== view.data) {
    const { x, y, width, height } = view
    const data = new Uint8Array(own.buffer, own.start, view.data.length)
    data.set(view.data)
    viewed = { of: view.data, view: { data, x, y, width, height } }
  }
  return { kernels: own.kernels, view: viewed.view }
}

/** A view has changed: it is brought there anew when it is next looked at. */
export function forgetView({ data }: ByteView): void {
  if (viewed?.of === data) viewed = null
}

/** A look as kernels that find the views of {@link viewInMemory} find it. */
export function lookInMemory(look: PlacesLook, kernels: Kernels): PlacesLook {
  if (!engine || kernels !== engine.kernels) return look
  for (const one of looks) if (one.of === look) return one.look
  const at = nextLook++ % mostLooks
  const start = engine.start + (viewBytes + behindBytes) * mostPixels + at * lookBytes
  const numbers = new Float32Array(engine.buffer, start, look.numbers.length)
  numbers.set(look.numbers)
  const there = { ...look, numbers }
  looks[at] = { of: look, look: there }
  return there
}

/** A backdrop as kernels find it. `deviationAt`: what to expect of a pixel that is known; the others get -1. */
export function backdropInMemory(backdrop: Backdrop, deviationAt: (at: number) => number): Rgba {
  if (backed?.of === backdrop) return backed.picture
  const { width, height, y, u, v, spread } = backdrop
  const own = startFor(backdrop)
  const numbers = 4 * width * height
  const data = own
    ? new Float32Array(own.buffer, own.start + viewBytes * mostPixels, numbers)
    : new Float32Array(numbers)
  for (let at = 0, to = 0; to < numbers; at++, to += 4) {
    data[to] = y[at]!
    data[to + 1] = u[at]!
    data[to + 2] = v[at]!
    data[to + 3] = spread[at]! < 0 ? -1 : deviationAt(at)
  }
  backed = { of: backdrop, picture: { data, width, height } }
  return backed.picture
}
