/*
 * Samples on their way from the worker that mixes to the one that plays: a ring in memory that both share, so that nothing
 * passes through the page.
 */

/** Places in the head of a ring: how many samples were written, played and left out, and how often there was none to play. */
export const ringHead = { written: 0, played: 1, leftOut: 2, missed: 3 } as const
const headSize = 4
/** Samples that it holds, a power of two. */
export const ringSize = 32768
/** Samples from one reading of the meters to the next. */
export const meterStep = 2400
const meterSlots = 32
/** Numbers of a reading: largest of left and right, momentary and short-term loudness, what the limiter leaves. */
export const meterNumbers = 5

export interface SoundRing {
  head: Int32Array
  left: Float32Array
  right: Float32Array
  meters: Float32Array
}

export const ringBytes = 4 * (headSize + 2 * ringSize + meterSlots * meterNumbers)

export function ringIn(memory: SharedArrayBuffer): SoundRing {
  return {
    head: new Int32Array(memory, 0, headSize),
    left: new Float32Array(memory, 4 * headSize, ringSize),
    right: new Float32Array(memory, 4 * (headSize + ringSize), ringSize),
    meters: new Float32Array(memory, 4 * (headSize + 2 * ringSize), meterSlots * meterNumbers),
  }
}

/** Samples that are over: they were played, or left out, which the player does with its next block. */
export const passedIn = ({ head }: SoundRing): number =>
  Atomics.load(head, ringHead.played) + Atomics.load(head, ringHead.leftOut)
/** Samples that are there to be played. */
export const waitingIn = (ring: SoundRing): number => Atomics.load(ring.head, ringHead.written) - passedIn(ring)
/** Leaves out as many of the next samples as are there, but for a few to go on with. */
export function leaveOut(ring: SoundRing, count: number): void {
  const some = Math.min(waitingIn(ring) - 2048, count)
  if (some > 0) Atomics.add(ring.head, ringHead.leftOut, some)
}

/** Where the reading of the meters lies that belongs to a sample. */
export const meterAt = (sample: number): number => (Math.floor(sample / meterStep) % meterSlots) * meterNumbers
