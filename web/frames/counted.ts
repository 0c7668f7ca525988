import type { Yuv } from '#core/pixels/buffers/yuv.ts'

/** Frames of fewer bytes are no matter. */
const least = 2 ** 20
const weights = new WeakMap<ArrayBufferLike, ArrayBuffer>()

/**
 * Makes a frame in shared memory count for the garbage collector, which counts plain memory alone and else lets gigabytes of frames
 * lie that nobody holds any more: a plain buffer as large as it, never touched, lives as long as it does here. For every thread
 * that gets a frame.
 */
export function counted<T extends Pick<Yuv, 'data'>>(frame: T): T {
  const { buffer, byteLength } = frame.data
  if (byteLength >= least && !(buffer instanceof ArrayBuffer)) weights.set(buffer, new ArrayBuffer(byteLength))
  return frame
}
