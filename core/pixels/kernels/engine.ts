import { binary } from './binary.generated.ts'
import { type Compiled, compiledKernels, page } from './compiled.ts'
import type { KernelEngine } from './interface.ts'

interface WebAssemblyApi {
  Memory: new (size: { initial: number }) => { buffer: ArrayBuffer }
  Module: new (bytes: Uint8Array) => object
  Instance: new (module: object, imports: object) => { exports: unknown }
}

/** Room that a 4096 x 2304 picture needs for all its buffers; untouched pages of it cost nothing. */
const engineBytes = 1536 * 1024 ** 2

/** Starts the compiled kernels with a memory of their own; null where this machine can not (the plain ones serve). */
export function startKernels(bytes = engineBytes): KernelEngine | null {
  const { WebAssembly, atob } = globalThis as unknown as { WebAssembly?: WebAssemblyApi; atob(text: string): string }
  if (!WebAssembly) return null
  try {
    const memory = new WebAssembly.Memory({ initial: Math.ceil(bytes / page) })
    const module = new WebAssembly.Module(Uint8Array.from(atob(binary), (character) => character.charCodeAt(0)))
    const env = { memory, abort: () => {} }
    const { exports } = new WebAssembly.Instance(module, { env })
    return compiledKernels(memory.buffer, exports as Compiled)
  } catch {
    return null
  }
}
