import { describe, expect, it } from 'vitest'
import { pacedDecoder } from './pacedDecoder.ts'

/** A decoder that gives a frame for every chunk once it has `delay` more, as those with pictures in another order do. */
const delay = 2
class FakeDecoder extends EventTarget {
  state = 'unconfigured'
  given: EncodedVideoChunk[] = []
  get decodeQueueSize() {
    return 0
  }
  private readonly told: VideoDecoderInit
  constructor(told: VideoDecoderInit) {
    super()
    this.told = told
  }
  configure() {
    this.state = 'configured'
  }
  decode(chunk: EncodedVideoChunk) {
    if (this.state !== 'configured') throw new DOMException('The decoder is not configured.', 'InvalidStateError')
    this.given.push(chunk)
    if (this.given.length > delay) this.give()
  }
  async flush() {
    await Promise.resolve()
    if (this.state !== 'configured') throw new DOMException('The decoder is not configured.', 'InvalidStateError')
    while (this.shown < this.given.length) this.give()
  }
  reset() {
    this.state = 'unconfigured'
  }
  close() {
    this.state = 'closed'
  }
  fail() {
    this.state = 'closed'
    this.told.error(new DOMException('It is damaged.', 'EncodingError'))
  }
  private shown = 0
  private give() {
    const { timestamp } = this.given[this.shown++]!
    this.told.output({ timestamp, close() {} } as VideoFrame)
  }
}

const chunks = (count: number) => Array.from({ length: count }, (_, timestamp) => ({ timestamp }) as EncodedVideoChunk)
function decoderOf(codedWidth: number, codedHeight: number) {
  const out: VideoFrame[] = []
  const errors: string[] = []
  const Paced = pacedDecoder(FakeDecoder as unknown as typeof VideoDecoder, 1000 * 1000, 4)
  const decoder = new Paced({ output: (frame) => out.push(frame), error: ({ message }) => errors.push(message) })
  decoder.configure({ codec: 'avc1.640033', codedWidth, codedHeight })
  const fake = decoder as unknown as FakeDecoder
  return { decoder, fake, out, errors }
}

describe('a decoder of large frames', () => {
  it('decodes as many as may wait, and one more for each that is let go of, in their order', () => {
    const { decoder, fake, out } = decoderOf(3840, 2160)
    for (const chunk of chunks(40)) decoder.decode(chunk)
    expect(out).toHaveLength(4)
    expect(fake.given).toHaveLength(4 + delay)
    expect(decoder.decodeQueueSize).toBe(40 - fake.given.length)
    out[0]!.close()
    out[0]!.close()
    expect(out.map(({ timestamp }) => timestamp)).toEqual([0, 1, 2, 3, 4])
    out[1]!.close()
    out[2]!.close()
    expect(out).toHaveLength(7)
  })

  it('gives the last ones, too, once those before are let go of', async () => {
    const { decoder, out } = decoderOf(3840, 2160)
    for (const chunk of chunks(12)) decoder.decode(chunk)
    let done = false
    const flushed = decoder.flush().then(() => (done = true))
    for (let at = 0; at < 8; at++) {
      expect(done).toBe(false)
      out[at]!.close()
      await Promise.resolve()
    }
    await flushed
    expect(out.map(({ timestamp }) => timestamp)).toEqual(Array.from({ length: 12 }, (_, at) => at))
  })

  it('waits for nobody when it is closed, begins anew or fails', async () => {
    for (const end of ['close', 'reset', 'fail'] as const) {
      const { decoder, fake, out, errors } = decoderOf(3840, 2160)
      for (const chunk of chunks(12)) decoder.decode(chunk)
      const flushed = decoder.flush()
      if (end === 'fail') fake.fail()
      else decoder[end]()
      await expect(flushed).rejects.toThrow('not configured')
      expect(decoder.decodeQueueSize).toBe(0)
      expect(() => decoder.decode(chunks(1)[0]!)).toThrow('not configured')
      // Those that are out may still be closed.
      for (const frame of out) frame.close()
      expect(errors).toEqual(end === 'fail' ? ['It is damaged.'] : [])
    }
  })

  it('leaves smaller frames to the browser', () => {
    const { decoder, fake, out } = decoderOf(960, 540)
    for (const chunk of chunks(40)) decoder.decode(chunk)
    expect(fake.given).toHaveLength(40)
    expect(out).toHaveLength(38)
  })
})
