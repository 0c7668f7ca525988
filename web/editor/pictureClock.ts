/** What sounds while the picture plays. */
export interface HeardClock {
  /** Second of the shot that is heard now. */
  at(): number
  /** Leaves out the next seconds of it, or as many as are there. */
  leaveOut(seconds: number): void
}

/** Seconds by which what is heard may lie beside the picture; loudspeakers take it in blocks. */
const together = 0.06
/** Share of what is left between them by which the picture goes over to the sound at every look. */
const approach = 0.002

/**
 * The second of the shot that is to be seen. Time goes on at its own rate: where what is heard was held up (a busy machine that
 * mixed too late, a device that left blocks out), it leaves out what it has missed, and the picture waits for nothing.
 */
export class PictureClock {
  heard: HeardClock | null = null
  private readonly seconds: () => number
  private zero = 0

  /** `seconds`: a clock that never stands still. */
  constructor(seconds: () => number, at: number) {
    this.seconds = seconds
    this.go(at)
  }

  go(to: number): void {
    this.zero = this.seconds() - to
  }

  /** Beyond `round.to` it begins again at `round.from` (seconds of the shot). */
  time(round: { from: number; to: number } | null): number {
    const span = round && round.to > round.from ? round.to - round.from : 0
    if (span) {
      const turns = Math.floor((this.seconds() - this.zero - round!.from) / span)
      if (turns > 0) this.zero += turns * span
    }
    if (this.heard) {
      let behind = this.seconds() - this.zero - this.heard.at()
      if (span) behind -= span * Math.round(behind / span)
      if (behind > together) this.heard.leaveOut(behind)
      else this.zero += behind < -together ? behind : behind * approach
    }
    return this.seconds() - this.zero
  }
}
