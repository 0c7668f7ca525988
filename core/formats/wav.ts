/** How the samples of a WAV file are coded. */
export const wavForms = { s16: '16 bit', s24: '24 bit', f32: '32 bit float' } as const
export type WavForm = keyof typeof wavForms

const bytesOf = { s16: 2, s24: 3, f32: 4 } as const

/**
 * The head of a WAV file of `samples` samples in two channels: RIFF WAVE (Microsoft and IBM, Multimedia Programming Interface
 * and Data Specifications 1.0, 1991), floats with the fact chunk that their format asks for (Microsoft, New Multimedia Data
 * Types, 1994). The samples follow it. Throws an Error where they would not fit into 4 GB.
 */
export function wavHead(form: WavForm, samples: number, rate: number): Uint8Array {
  const bytes = bytesOf[form]
  const float = form === 'f32'
  const head = float ? 58 : 44
  const size = wavSize(form, samples) - head
  if (size + head > 0xffffffff) throw new Error('A WAV file holds at most 4 GB: about six hours.')
  const out = new DataView(new ArrayBuffer(head))
  const text = (at: number, letters: string) => [...letters].forEach((c, i) => out.setUint8(at + i, c.charCodeAt(0)))
  text(0, 'RIFF')
  out.setUint32(4, head - 8 + size, true)
  text(8, 'WAVEfmt ')
  out.setUint32(16, float ? 18 : 16, true)
  out.setUint16(20, float ? 3 : 1, true)
  out.setUint16(22, 2, true)
  out.setUint32(24, rate, true)
  out.setUint32(28, rate * 2 * bytes, true)
  out.setUint16(32, 2 * bytes, true)
  out.setUint16(34, 8 * bytes, true)
  if (float) {
    text(38, 'fact')
    out.setUint32(42, 4, true)
    out.setUint32(46, samples, true)
  }
  text(head - 8, 'data')
  out.setUint32(head - 4, size, true)
  return new Uint8Array(out.buffer)
}

/** Bytes of a whole file of `samples` samples. */
export const wavSize = (form: WavForm, samples: number): number =>
  (form === 'f32' ? 58 : 44) + samples * 2 * bytesOf[form]

/** `count` samples of both channels one after the other, as a WAV file holds them; what is over full scale is cut off, but for floats. */
export function wavSamples(form: WavForm, left: Float32Array, right: Float32Array, count: number): Uint8Array {
  const bytes = bytesOf[form]
  const out = new DataView(new ArrayBuffer(2 * count * bytes))
  const whole = (v: number, full: number) => Math.max(-full - 1, Math.min(full, Math.round(v * (full + 1))))
  for (let i = 0; i < 2 * count; i++) {
    const v = (i % 2 ? right : left)[i >> 1]!
    const at = i * bytes
    if (form === 'f32') out.setFloat32(at, v, true)
    else if (form === 's16') out.setInt16(at, whole(v, 0x7fff), true)
    else {
      const code = whole(v, 0x7fffff)
      out.setUint8(at, code & 255)
      out.setInt16(at + 1, code >> 8, true)
    }
  }
  return new Uint8Array(out.buffer)
}
