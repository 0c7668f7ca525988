/** Named float buffers that grow and are used again, so that no frame allocates. One per worker. */
export class Scratch {
  private readonly buffers = new Map<string, Float32Array>()

  /** A view of `length` floats; contents are whatever the last user left, unless `zero`. */
  floats(name: string, length: number, zero = false): Float32Array {
    let buffer = this.buffers.get(name)
    if (!buffer || buffer.length < length) {
      buffer = new Float32Array(Math.ceil(length * 1.25))
      this.buffers.set(name, buffer)
    }
    const view = buffer.subarray(0, length)
    if (zero) view.fill(0)
    return view
  }

  /** A view of `length` zeros, for users who put back to zero what they wrote: cheaper than clearing all of it. */
  cleared(name: string, length: number): Float32Array {
    const kept = `cleared ${name}`
    const known = this.buffers.get(kept)
    return this.floats(kept, length, !known || known.length < length)
  }
}
