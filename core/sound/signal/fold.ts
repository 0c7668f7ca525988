import type { Stereo } from './stereo.ts'

/**
 * Folds channels down to stereo by ITU-R BS.775-3, annex 4: the centre and the surrounds at -3.01 dB on either side, without
 * the channel of low effects. Channels in the order of WAVE and of decoders: front left, right, centre, low effects, then the
 * surrounds. Three channels are left, right and centre; four are left, right and the surrounds left and right. One becomes two
 * that are alike. `out` is written from its beginning on.
 */
export function foldToStereo(channels: readonly Float32Array[], out: Stereo): void {
  const [left, right, third, fourth, fifth, sixth] = channels
  const count = left?.length ?? 0
  out.left.set(left!.subarray(0, count))
  out.right.set((right ?? left!).subarray(0, count))
  const half = Math.SQRT1_2
  const into = (to: Float32Array, from: Float32Array | undefined) => {
    if (from) for (let i = 0; i < count; i++) to[i]! += half * from[i]!
  }
  const both = (from: Float32Array | undefined) => (into(out.left, from), into(out.right, from))
  switch (channels.length) {
    case 1:
    case 2:
      return
    case 3:
      return both(third)
    case 4:
      into(out.left, third)
      return into(out.right, fourth)
    case 5:
      both(third)
      into(out.left, fourth)
      return into(out.right, fifth)
    default:
      both(third)
      into(out.left, fifth)
      into(out.right, sixth)
  }
}
