import type { Recording } from './lane.ts'
import { sincAt, sincReach } from './signal/sinc.ts'

/** Samples `at` up to `at + length` of what is heard, that run evenly from one place of a recording to another: a real number of samples, backwards where the second is the smaller. The same place twice is silence. */
export interface TapePiece {
  at: number
  length: number
  from: number
  to: number
}

/** The fastest that a tape is heard; beyond it runs on silently. */
const fastest = 8
/** Samples over which a piece begins and ends that does not go on where the one before it has ended: else it would click. */
const soft = 192

/** A recording as a tape that runs at other speeds: what is slower is lower. */
export class TimedRecording implements Recording {
  private readonly take: Recording
  private readonly pieces: readonly TapePiece[]

  constructor(take: Recording, pieces: readonly TapePiece[]) {
    this.take = take
    this.pieces = pieces
  }

  get length(): number {
    const last = this.pieces.at(-1)
    return this.take.length && last ? last.at + last.length : 0
  }

  sources(from: number, to: number): { take: Recording; from: number; to: number }[] {
    return this.heard(from, to).map(({ low, high, reach }) => ({
      take: this.take,
      from: Math.floor(low) - reach,
      to: Math.ceil(high) + reach + 2,
    }))
  }

  read(from: number, count: number, left: Float32Array, right: Float32Array): void {
    left.fill(0, 0, count)
    right.fill(0, 0, count)
    for (const { piece, i, first, last, low, high, reach } of this.heard(from, from + count)) {
      const step = (piece.to - piece.from) / piece.length
      const start = Math.floor(low) - reach
      const room = Math.ceil(high) + reach + 2 - start
      const [one, other] = [new Float32Array(room), new Float32Array(room)]
      this.take.read(start, room, one, other)
      const ratio = Math.abs(step)
      const begins = this.goesOn(i - 1) ? 0 : soft
      const ends = this.goesOn(i) ? 0 : soft
      for (let at = first; at < last; at++) {
        const place = piece.from + step * (at - piece.at) - start
        const fade = Math.min(
          1,
          begins ? (at - piece.at + 1) / begins : 1,
          ends ? (piece.at + piece.length - at) / ends : 1,
        )
        const whole = step === 1 && Number.isInteger(place)
        left[at - from] = fade * (whole ? one[place]! : sincAt(one, place, ratio))
        right[at - from] = fade * (whole ? other[place]! : sincAt(other, place, ratio))
      }
    }
  }

  /** Whether the piece after one begins where that one ends. */
  private goesOn(i: number): boolean {
    const [one, next] = [this.pieces[i], this.pieces[i + 1]]
    if (!one || !next || one.to === one.from || next.to === next.from) return false
    return Math.abs(one.to - next.from) < 2 && one.to > one.from === next.to > next.from
  }

  /** What is heard of the pieces between two samples: from place `low` to `high` of the recording. */
  private heard(from: number, to: number) {
    return this.pieces.flatMap((piece, i) => {
      const [first, last] = [Math.max(from, piece.at), Math.min(to, piece.at + piece.length)]
      const step = (piece.to - piece.from) / piece.length
      if (first >= last || step === 0 || Math.abs(step) > fastest) return []
      const ends = [first, last - 1].map((at) => piece.from + step * (at - piece.at))
      return [
        { piece, i, first, last, low: Math.min(...ends), high: Math.max(...ends), reach: sincReach(Math.abs(step)) },
      ]
    })
  }
}
