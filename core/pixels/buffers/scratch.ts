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

/** Buffers by the scratch that has taken them, and by their names. */
type Buffers = Map<Slot, Map<Slot, Float32Array>>

/** What a scratch and all that are inner to it work in. */
interface Room {
  buffers: Buffers
  /** Buffers of the work under way that are free when it is done; null where everything lasts. */
  passing: Buffers | null
  engine: KernelEngine | null
  /** Where in the engine's memory the next buffer that lasts begins: they fill it from its start. */
  next: number
  /** Where those that pass begin: they fill it from its end. */
  top: number
  /** The lowest place that they have come to. */
  deepest: number
  /** Bytes of all buffers that are plain arrays. */
  plain: number
}

const roomIn = (engine: KernelEngine | null): Room => ({
  ...{ buffers: new Map(), passing: null, engine, plain: 0 },
  ...{ next: engine?.start ?? 0, top: engine?.buffer.byteLength ?? 0, deepest: engine?.buffer.byteLength ?? 0 },
})

/**
 * Buffers that grow and are used again, so that no frame allocates, and the kernels that work on them. With an engine the
 * buffers lie in its memory and the kernels are the compiled ones; without one, and after its memory was full (see
 * {@link withRoom}), with plain arrays and plain kernels. One per worker.
 */
export class Scratch {
  private readonly room: Room
  private readonly own: Slot

  constructor(engine: KernelEngine | null = null, room = roomIn(engine), own = new Slot()) {
    this.room = room
    this.own = own
  }

  get kernels(): Kernels {
    return this.room.engine?.kernels ?? plainKernels
  }

  /** Bytes that it has taken so far, with all that are inner to it. */
  get held(): number {
    const { engine, next, deepest, plain } = this.room
    return engine ? next - engine.start + engine.buffer.byteLength - deepest : plain
  }

  /**
   * Does a piece of work whose buffers nobody needs when it is done: those of the next one lie in the same place. What it takes
   * in {@link lasting} is kept, and what is {@link cleared}. Plain arrays are all kept.
   */
  passing<T>(work: () => T): T {
    const { room } = this
    const { passing, top } = room
    room.passing = room.engine && new Map()
    try {
      return work()
    } finally {
      room.passing = passing
      room.top = top
    }
  }

  /** Does a piece of work whose buffers are to stay what they are when the work around it is done. */
  lasting<T>(work: () => T): T {
    const { room } = this
    const { passing } = room
    room.passing = null
    try {
      return work()
    } finally {
      room.passing = passing
    }
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
    return this.lasting(() => {
      const known = buffersOf(this.room.buffers, this.own).get(kept)
      return this.floats(kept, length, !known || known.length < length)
    })
  }

  bytes(slot: Slot, length: number): Uint8Array {
    const { buffer, byteOffset } = this.buffer(slot, Math.ceil(length / 4))
    return new Uint8Array(buffer, byteOffset, length)
  }

  words(slot: Slot, length: number): Uint32Array {
    const { buffer, byteOffset } = this.buffer(slot, length)
    return new Uint32Array(buffer, byteOffset, length)
  }

  private buffer(slot: Slot, length: number): Float32Array {
    const buffers = buffersOf(this.room.passing ?? this.room.buffers, this.own)
    const known = buffers.get(slot)
    if (known && known.length >= length) return known
    const made = this.room.passing ? this.onTop(length) : this.allocate(Math.ceil(length * 1.25))
    buffers.set(slot, made)
    return made
  }

  private allocate(length: number): Float32Array {
    const { room } = this
    const { engine } = room
    if (!engine) {
      room.plain += 4 * length
      return new Float32Array(length)
    }
    const end = room.next + 4 * length + beyond
    if (end > room.top) this.full()
    const view = new Float32Array(engine.buffer, room.next, length)
    room.next = Math.ceil(end / line) * line
    return view
  }

  private onTop(length: number): Float32Array {
    const { room } = this
    const begin = Math.floor((room.top - 4 * length - beyond) / line) * line
    if (begin < room.next) this.full()
    room.top = begin
    room.deepest = Math.min(room.deepest, begin)
    return new Float32Array(room.engine!.buffer, begin, length)
  }

  /** Kernels may be under way with arrays of the memory: nothing of it is mixed with others, all begins anew without it. */
  private full(): never {
    const { room } = this
    Object.assign(room, roomIn(null))
    throw new MemoryFull()
  }
}

/** Bytes of room behind every buffer: vector kernels read and write a number past the end. */
const beyond = 64
/** Bytes at whose multiples buffers begin. */
const line = 64

function buffersOf(all: Buffers, owner: Slot): Map<Slot, Float32Array> {
  let buffers = all.get(owner)
  if (!buffers) all.set(owner, (buffers = new Map()))
  return buffers
}
