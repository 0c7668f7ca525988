import { ringHead, ringIn, ringSize, waitingIn, type SoundRing } from './soundRing.ts'

// What runs here is not in the types of the page.
declare const registerProcessor: (name: string, processor: unknown) => void
declare const AudioWorkletProcessor: new () => { readonly port: MessagePort }

/** Plays what lies in the ring that it was given last; fades within a block where that is taken away or something is left out, so that nothing clicks. */
class Player extends AudioWorkletProcessor {
  private ring: SoundRing | null = null
  /** Samples of it that this has left out so far. */
  private leftOut = 0
  private last: [left: number, right: number] = [0, 0]

  constructor() {
    super()
    this.port.onmessage = ({ data }: MessageEvent<SharedArrayBuffer | null>) => {
      this.ring = data && ringIn(data)
      this.leftOut = this.ring ? Atomics.load(this.ring.head, ringHead.leftOut) : 0
    }
  }

  process(_: unknown, [output]: Float32Array[][]): boolean {
    const [left, right = left] = output!
    if (!left || !right) return true
    const { ring } = this
    const count = left.length
    if (ring && waitingIn(ring) >= count) {
      const played = Atomics.load(ring.head, ringHead.played)
      const leftOut = Atomics.load(ring.head, ringHead.leftOut)
      for (let i = 0; i < count; i++) {
        const at = (played + this.leftOut + i) & (ringSize - 1)
        const then = (played + leftOut + i) & (ringSize - 1)
        const passed = (i + 1) / count
        left[i] = ring.left[at]! + (ring.left[then]! - ring.left[at]!) * passed
        right[i] = ring.right[at]! + (ring.right[then]! - ring.right[at]!) * passed
      }
      this.leftOut = leftOut
      this.last = [left[count - 1]!, right[count - 1]!]
      Atomics.add(ring.head, ringHead.played, count)
      return true
    }
    // Before the first samples have come there is nothing to miss.
    if (ring && Atomics.load(ring.head, ringHead.played) > 0) Atomics.add(ring.head, ringHead.missed, 1)
    for (let i = 0; i < count; i++) {
      const rest = 1 - (i + 1) / count
      left[i] = this.last[0] * rest
      right[i] = this.last[1] * rest
    }
    this.last = [0, 0]
    return true
  }
}
registerProcessor('player', Player)
