import { plainKernels, type KernelEngine, type Kernels } from '../kernels/kernels.ts'

/** The engine's memory is full; from now on the scratch works without it. */
class MemoryFull extends Error {}

/** Runs what uses a scratch; once again where the engine's memory was not enough for it. `run` leaves no half work behind. */
export function withRoom<T>(run: () => T): T {
  try {
    return run()
  } catch (error) {
    if (!(error instanceof MemoryFull)) throw error
    return run()
  }
}

interface Room {
  buffers: Map<string, Float32Array>
  engine: KernelEngine | null
  /** Where the next buffer begins in the engine's memory. */
  next: number
}

/**
 * Named buffers that grow and are used again, so that no frame allocates, and the kernels that work on them. With an
 * engine the buffers lie in its memory and the kernels are the compiled ones; without one, and after its memory was
 * full (see {@link withRoom}), with plain arrays and plain kernels. One per worker.
 */
export class Scratch {
  private readonly room: Room
  private readonly prefix: string

  constructor(
    engine: KernelEngine | null = null,
    room: Room = { buffers: new Map(), engine, next: engine?.start ?? 0 },
    prefix = '',
  ) {
    this.room = room
    this.prefix = prefix
  }

  get kernels(): Kernels {
    return this.room.engine?.kernels ?? plainKernels
  }

  /** The same room under other names, for a picture that is made while another one is under way. */
  inner(name: string): Scratch {
    return new Scratch(null, this.room, `${this.prefix}${name} `)
  }

  /** A view of `length` floats; contents are whatever the last user left, unless `zero`. */
  floats(name: string, length: number, zero = false): Float32Array {
    const view = this.buffer(name, length).subarray(0, length)
    if (zero) view.fill(0)
    return view
  }

  /** A view of `length` zeros, for users who put back to zero what they wrote: cheaper than clearing all of it. */
  cleared(name: string, length: number): Float32Array {
    const kept = `cleared ${name}`
    const known = this.room.buffers.get(this.prefix + kept)
    return this.floats(kept, length, !known || known.length < length)
  }

  bytes(name: string, length: number): Uint8Array {
    const { buffer, byteOffset } = this.buffer(name, Math.ceil(length / 4))
    return new Uint8Array(buffer, byteOffset, length)
  }

  words(name: string, length: number): Uint32Array {
    const { buffer, byteOffset } = this.buffer(name, length)
    return new Uint32Array(buffer, byteOffset, length)
  }

  private buffer(name: string, length: number): Float32Array {
    const known = this.room.buffers.get(this.prefix + name)
    if (known && known.length >= length) return known
    const made = this.allocate(Math.ceil(length * 1.25))
    this.room.buffers.set(this.prefix + name, made)
    return made
  }

  private allocate(length: number): Float32Array {
    const { room } = this
    if (room.engine) {
      // A little room behind every buffer: vector kernels read and write a number past the end.
      const end = room.next + 4 * length + 64
      if (end <= room.engine.buffer.byteLength) {
        const view = new Float32Array(room.engine.buffer, room.next, length)
        room.next = Math.ceil(end / 64) * 64
        return view
      }
      // Kernels may be under way with arrays of the memory: nothing of it is mixed with others, all begins anew without it.
      room.engine = null
      room.buffers.clear()
      throw new MemoryFull()
    }
    return new Float32Array(length)
  }
}
