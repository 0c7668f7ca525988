import { ringHead, ringIn, ringSize, type SoundRing } from './soundRing.ts'

// What runs here is not in the types of the page.
declare const registerProcessor: (name: string, processor: unknown) => void
declare const AudioWorkletProcessor: new () => { readonly port: MessagePort }

/** Plays what lies in the ring that it was given last; fades within a block where it is taken away, so that nothing clicks. */
class Player extends AudioWorkletProcessor {
  private ring: SoundRing | null = null
  private last: [left: number, right: number] = [0, 0]

  constructor() {
    super()
    this.port.onmessage = ({ data }: MessageEvent<SharedArrayBuffer | null>) => {
      this.ring = data && ringIn(data)
    }
  }

  process(_: unknown, [output]: Float32Array[][]): boolean {
    const [left, right = left] = output!
    if (!left || !right) return true
    const { ring } = this
    const count = left.length
    const played = ring ? Atomics.load(ring.head, ringHead.played) : 0
    const there = ring ? Atomics.load(ring.head, ringHead.written) - played : 0
    if (ring && there >= count) {
      for (let i = 0; i < count; i++) {
        const at = (played + i) & (ringSize - 1)
        left[i] = ring.left[at]!
        right[i] = ring.right[at]!
      }
      this.last = [left[count - 1]!, right[count - 1]!]
      Atomics.add(ring.head, ringHead.played, count)
      return true
    }
    // Before the first samples have come there is nothing to miss.
    if (ring && played > 0) Atomics.add(ring.head, ringHead.missed, 1)
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
