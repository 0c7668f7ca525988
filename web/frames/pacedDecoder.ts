/**
 * A decoder that decodes frames of `large` pixels or more only as they are let go of: `mostOut` of them wait for whoever reads them, and
 * what is still to be decoded waits as it is coded. A browser's own decodes all that it is given, forty frames of 12 MB each at 4K
 * before anybody looks at the first.
 */
export function pacedDecoder(Native: typeof VideoDecoder, large: number, mostOut: number): typeof VideoDecoder {
  return class PacedDecoder extends Native {
    private isPaced = false
    /** Frames that are out, not yet closed. */
    private out = 0
    private readonly held: EncodedVideoChunk[] = []
    private whenFed: (() => void)[] = []

    constructor({ output, error }: VideoDecoderInit) {
      // What is asked for before there is anybody to answer.
      const own = { lent: (frame: VideoFrame) => frame, drop: () => {} }
      super({
        output: (frame) => output(own.lent(frame)),
        error: (cause) => {
          own.drop()
          error(cause)
        },
      })
      own.lent = (frame) => this.lent(frame)
      own.drop = () => this.drop()
      this.addEventListener('dequeue', () => this.feed())
    }

    override configure(config: VideoDecoderConfig): void {
      super.configure(config)
      this.isPaced = (config.codedWidth ?? 0) * (config.codedHeight ?? 0) >= large
    }

    override get decodeQueueSize(): number {
      return super.decodeQueueSize + this.held.length
    }

    override decode(chunk: EncodedVideoChunk): void {
      // What a decoder that is closed or has failed says is said at once.
      if (!this.isPaced || this.state !== 'configured') return super.decode(chunk)
      this.held.push(chunk)
      this.feed()
    }

    override async flush(): Promise<void> {
      while (this.held.length) await new Promise<void>((fed) => this.whenFed.push(fed))
      return super.flush()
    }

    override reset(): void {
      this.drop()
      super.reset()
    }

    override close(): void {
      this.drop()
      super.close()
    }

    private feed(): void {
      while (this.held.length && this.out + super.decodeQueueSize < mostOut) super.decode(this.held.shift()!)
      if (!this.held.length) for (const fed of this.whenFed.splice(0)) fed()
    }

    private drop(): void {
      this.held.length = 0
      this.feed()
    }

    /** A frame that says so when it is closed. */
    private lent(frame: VideoFrame): VideoFrame {
      if (!this.isPaced) return frame
      this.out++
      const close = frame.close.bind(frame)
      let isOut = true
      frame.close = () => {
        close()
        if (!isOut) return
        isOut = false
        this.out--
        this.feed()
      }
      return frame
    }
  }
}
