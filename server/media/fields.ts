/** Reads a sequence parameter set of H.264 bit by bit (ITU-T H.264, 7.2 and 9.1). Beyond its end there are zeros. */
class Bits {
  private at = 0
  private readonly bytes: Uint8Array
  constructor(bytes: Uint8Array) {
    this.bytes = bytes
  }

  one(): number {
    const bit = ((this.bytes[this.at >> 3] ?? 0) >> (7 - (this.at & 7))) & 1
    this.at++
    return bit
  }
  /** So many bits, as a number. */
  bits(count: number): number {
    let value = 0
    for (let i = 0; i < count; i++) value = 2 * value + this.one()
    return value
  }
  /** An unsigned number in Exp-Golomb code. */
  number(): number {
    let zeros = 0
    while (zeros < 32 && !this.one()) zeros++
    return 2 ** zeros - 1 + this.bits(zeros)
  }
  /** The same with a sign. */
  signed(): number {
    const code = this.number()
    return code & 1 ? (code + 1) / 2 : -code / 2
  }
}

/** Profiles whose sets say more of their colours. */
const highProfiles = [100, 110, 122, 244, 44, 83, 86, 118, 128, 138, 139, 134, 135]

/**
 * Whether H.264 may be made of fields, two to a picture: the flag frame_mbs_only_flag of a sequence parameter set (ITU-T H.264,
 * 7.3.2.1.1) is not set. `set`: the set with its first byte, the type.
 */
export function mayBeFields(set: Uint8Array): boolean {
  const bits = new Bits(withoutGuards(set.subarray(1)))
  const profile = bits.bits(8)
  bits.bits(16)
  bits.number()
  if (highProfiles.includes(profile)) skipColours(bits)
  bits.number()
  const order = bits.number()
  if (order === 0) bits.number()
  if (order === 1) {
    bits.one()
    bits.signed()
    bits.signed()
    const count = Math.min(255, bits.number())
    for (let i = 0; i < count; i++) bits.signed()
  }
  bits.number()
  bits.one()
  bits.number()
  bits.number()
  return !bits.one()
}

function skipColours(bits: Bits): void {
  const chroma = bits.number()
  if (chroma === 3) bits.one()
  bits.number()
  bits.number()
  bits.one()
  if (!bits.one()) return
  for (let list = 0; list < (chroma === 3 ? 12 : 8); list++) {
    if (!bits.one()) continue
    let [last, next] = [8, 8]
    for (let i = 0; i < (list < 6 ? 16 : 64) && next !== 0; i++) {
      next = (last + bits.signed() + 256) % 256
      if (next !== 0) last = next
    }
  }
}

/** Without the bytes that only keep a start code from arising by chance (7.3.1). */
const withoutGuards = (bytes: Uint8Array) =>
  bytes.filter((byte, i) => !(byte === 3 && bytes[i - 1] === 0 && bytes[i - 2] === 0))

/** The first sequence parameter set of a decoder's record (ISO/IEC 14496-15, 5.3.3.1); null where it holds none. */
export function setOfRecord(record: Uint8Array): Uint8Array | null {
  if (record[0] !== 1 || !((record[5] ?? 0) & 31)) return null
  const length = 256 * record[6]! + record[7]!
  return record.length >= 8 + length ? record.subarray(8, 8 + length) : null
}

/** The first sequence parameter set of a stream with start codes (ITU-T H.264, annex B); null where there is none. */
export function setOfStream(stream: Uint8Array): Uint8Array | null {
  for (let i = 0; i + 3 < stream.length; i++)
    if (stream[i] === 0 && stream[i + 1] === 0 && stream[i + 2] === 1 && (stream[i + 3]! & 31) === 7)
      return stream.subarray(i + 3, i + 1024)
  return null
}
