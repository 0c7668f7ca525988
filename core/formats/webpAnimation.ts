import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'

/*
 * An animated WebP (RFC 9649, 2.7: a RIFF of the chunks VP8X and ANIM, and an ANMF for every frame), made of single WebP pictures as
 * encoders give them.
 */

/** What stands before the frames; the size of the whole is set at last, see {@link webpSize}. `alpha`: whether a frame has some. */
export function webpHead(width: number, height: number, alpha: boolean): Uint8Array {
  const out = new Uint8Array(44)
  const view = new DataView(out.buffer)
  word(out, 0, 'RIFF')
  word(out, 8, 'WEBP')
  word(out, 12, 'VP8X')
  view.setUint32(16, 10, true)
  out[20] = 2 | (alpha ? 16 : 0)
  threeBytes(out, 24, width - 1)
  threeBytes(out, 27, height - 1)
  word(out, 30, 'ANIM')
  view.setUint32(34, 6, true)
  // A clear ground (4 bytes), repeated for ever (0).
  return out
}

/** The size of a RIFF file of so many bytes, as it stands at byte 4. */
export function webpSize(bytes: number): Uint8Array {
  const out = new Uint8Array(4)
  new DataView(out.buffer).setUint32(0, bytes - 8, true)
  return out
}

/** A picture of the whole size as a frame that stays for `milliseconds` and replaces what was there before. */
export function webpFrame(picture: Uint8Array, width: number, height: number, milliseconds: number): Uint8Array {
  const data = chunksOf(picture)
  const length = data.reduce((sum, chunk) => sum + chunk.length, 0)
  const out = new Uint8Array(24 + length)
  word(out, 0, 'ANMF')
  new DataView(out.buffer).setUint32(4, 16 + length, true)
  threeBytes(out, 14, width - 1)
  threeBytes(out, 17, height - 1)
  threeBytes(out, 20, milliseconds)
  // Not blended with the frame before: it may be clear where that was not.
  out[23] = 2
  let at = 24
  for (const chunk of data) {
    out.set(chunk, at)
    at += chunk.length
  }
  return out
}

/** The chunks of a picture that are its pixels, each with its head, padded to an even length. Throws a Refusal where there are none. */
function chunksOf(picture: Uint8Array): Uint8Array[] {
  const view = new DataView(picture.buffer, picture.byteOffset, picture.byteLength)
  const out: Uint8Array[] = []
  for (let at = 12; at + 8 <= picture.length;) {
    const name = String.fromCharCode(...picture.subarray(at, at + 4))
    const end = at + 8 + view.getUint32(at + 4, true)
    const padded = end + (end & 1)
    if (name === 'ALPH' || name === 'VP8 ' || name === 'VP8L') {
      const chunk = new Uint8Array(padded - at)
      chunk.set(picture.subarray(at, Math.min(end, picture.length)))
      out.push(chunk)
    }
    at = padded
  }
  if (!out.length) throw new Refusal(say`This browser does not write WebP. Choose another form.`)
  return out
}

function word(out: Uint8Array, at: number, text: string): void {
  for (let i = 0; i < 4; i++) out[at + i] = text.charCodeAt(i)
}
function threeBytes(out: Uint8Array, at: number, value: number): void {
  for (let i = 0; i < 3; i++) out[at + i] = (value >> (8 * i)) & 255
}
