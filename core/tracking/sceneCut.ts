import { type FollowPicture, pieceOf } from './frame.ts'

/** Below this correlation, and from this difference of the histograms on (0 to 2), a picture shows something else. */
const least = { correlation: 0.35, apart: 0.5 }

/**
 * Whether the picture cuts to something else from one frame to the next, or goes black: small copies hardly correlate,
 * and other codes are in use. A flash or a change of light keeps the first, a fast pan the second.
 */
export function isCut(before: FollowPicture, now: FollowPicture): boolean {
  const small = (picture: FollowPicture) =>
    pieceOf(picture, { x: 0, y: 0, width: picture.width, height: picture.height }, 3)?.data
  const [a, b] = [small(before), small(now)]
  if (!a || !b || a.length !== b.length) return false
  const n = a.length
  let [sa, sb, saa, sbb, sab] = [0, 0, 0, 0, 0]
  const bins = new Float64Array(16)
  for (let i = 0; i < n; i++) {
    const [x, y] = [a[i]!, b[i]!]
    sa += x
    sb += y
    saa += x * x
    sbb += y * y
    sab += x * y
    bins[x >> 4]! += 1 / n
    bins[y >> 4]! -= 1 / n
  }
  const va = saa / n - (sa / n) ** 2
  const vb = sbb / n - (sb / n) ** 2
  const correlation = (sab / n - (sa * sb) / (n * n)) / Math.sqrt((va + 1) * (vb + 1))
  return correlation < least.correlation && bins.reduce((sum, v) => sum + Math.abs(v), 0) > least.apart
}
