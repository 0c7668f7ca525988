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
}
