import type { KernelEngine, Kernels } from '../kernels/interface.ts'
import { plainKernels } from '../kernels/plain.ts'

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

/** Names a buffer: whoever holds the object shares the buffer, nobody else does. */
export class Slot {
  private readonly parts = new Map<unknown, Slot>()

  /** A slot of its own that belongs to this one: the same for the same `of`. */
  part(of: string | number | Slot): Slot {
    let part = this.parts.get(of)
    if (!part) this.parts.set(of, (part = new Slot()))
    return part
  }
}

/** What a scratch and all that are inner to it work in. */
interface Room {
  buffers: Map<Slot, Map<Slot, Float32Array>>
  engine: KernelEngine | null
  /** Where the next buffer begins in the engine's memory. */
  next: number
  /** Bytes of all buffers, those that others have outgrown among them while an engine's memory holds them. */
  held: number
}

/**
 * Buffers that grow and are used again, so that no frame allocates, and the kernels that work on them. With an engine the
 * buffers lie in its memory and the kernels are the compiled ones; without one, and after its memory was full (see
 * {@link withRoom}), with plain arrays and plain kernels. One per worker.
 */
export class Scratch {
  private readonly room: Room
  private readonly own: Slot

  constructor(
    engine: KernelEngine | null = null,
    room: Room = { buffers: new Map(), engine, next: engine?.start ?? 0, held: 0 },
    own = new Slot(),
  ) {
    this.room = room
    this.own = own
  }

  get kernels(): Kernels {
    return this.room.engine?.kernels ?? plainKernels
  }

  /** Bytes that it has taken so far, with all that are inner to it. */
  get held(): number {
    return this.room.held
  }

  /** The same room with other buffers, for a picture that is made while another one is under way. */
  inner(slot: Slot): Scratch {
    return new Scratch(null, this.room, this.own.part(slot))
  }

  /** A view of `length` floats; contents are whatever the last user left, unless `zero`. */
  floats(slot: Slot, length: number, zero = false): Float32Array {
    const view = this.buffer(slot, length).subarray(0, length)
    if (zero) view.fill(0)
    return view
  }

  /** A view of `length` zeros, for users who put back to zero what they wrote: cheaper than clearing all of it. */
  cleared(slot: Slot, length: number): Float32Array {
    const kept = slot.part('cleared')
    const known = this.buffers.get(kept)
    return this.floats(kept, length, !known || known.length < length)
  }

  bytes(slot: Slot, length: number): Uint8Array {
    const { buffer, byteOffset } = this.buffer(slot, Math.ceil(length / 4))
    return new Uint8Array(buffer, byteOffset, length)
  }

  words(slot: Slot, length: number): Uint32Array {
    const { buffer, byteOffset } = this.buffer(slot, length)
    return new Uint32Array(buffer, byteOffset, length)
  }

  private get buffers(): Map<Slot, Float32Array> {
    let buffers = this.room.buffers.get(this.own)
    if (!buffers) this.room.buffers.set(this.own, (buffers = new Map()))
    return buffers
  }

  private buffer(slot: Slot, length: number): Float32Array {
    const known = this.buffers.get(slot)
    if (known && known.length >= length) return known
    const made = this.allocate(Math.ceil(length * 1.25))
    this.buffers.set(slot, made)
    return made
  }

  private allocate(length: number): Float32Array {
    const { room } = this
    room.held += 4 * length
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
      room.held = 0
      throw new MemoryFull()
    }
    return new Float32Array(length)
  }
}
