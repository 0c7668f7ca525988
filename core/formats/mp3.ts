/*
 * What an MP3 file says of the silence that its encoder has put around the sound: the tag in its first frame (G. Bouvigne, Mp3
 * Info Tag rev 1), which most encoders write.
 */

/** Samples, at the file's rate, that a decoder gives before the sound begins, and behind its end. */
export interface Mp3Padding {
  before: number
  behind: number
}

/** Samples by which a decoder of layer III is late by itself: 528 and one. */
const decoderDelay = 529

/** Bytes of an ID3v2 tag that stands before the sound, by the first ten bytes of a file; 0 where there is none. */
export function id3Length(bytes: Uint8Array): number {
  if (bytes.length < 10 || String.fromCharCode(...bytes.subarray(0, 3)) !== 'ID3') return 0
  // Seven bits of each byte; a footer is ten bytes more.
  const size = bytes.subarray(6, 10).reduce((sum, byte) => sum * 128 + (byte & 0x7f), 0)
  return 10 + size + (bytes[5]! & 0x10 ? 10 : 0)
}

/** Padding by the first bytes behind any ID3v2 tag, some hundred; null where the file does not say. */
export function mp3Padding(bytes: Uint8Array): Mp3Padding | null {
  const sync = bytes.findIndex((byte, i) => byte === 0xff && (bytes[i + 1] ?? 0) >= 0xe0)
  if (sync < 0 || sync + 4 > bytes.length) return null
  const mpeg1 = ((bytes[sync + 1]! >> 3) & 3) === 3
  const mono = bytes[sync + 3]! >> 6 === 3
  let at = sync + 4 + (mpeg1 ? (mono ? 17 : 32) : mono ? 9 : 17)
  const mark = String.fromCharCode(...bytes.subarray(at, at + 4))
  if (mark !== 'Xing' && mark !== 'Info') return null
  const flags = bytes[at + 7] ?? 0
  // Counts of frames and bytes, a table of contents, a quality, each where its flag is set.
  at += 8 + (flags & 1 ? 4 : 0) + (flags & 2 ? 4 : 0) + (flags & 4 ? 100 : 0) + (flags & 8 ? 4 : 0)
  const delays = bytes.subarray(at + 21, at + 24)
  if (bytes[at] === undefined || bytes[at] === 0 || delays.length < 3) return null
  const before = (delays[0]! << 4) | (delays[1]! >> 4)
  const behind = ((delays[1]! & 15) << 8) | delays[2]!
  return { before: before + decoderDelay, behind: Math.max(0, behind - decoderDelay) }
}
