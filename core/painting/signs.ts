import type { Grid } from './grid.ts'

/*
 * What tells of a carried matte whether it is right. On drawn performers over filmed clips, coloured like what is behind
 * them, the share of the edge along which both sides look the same told frames of an overlap below 0.85 best by far
 * (lab/accuracy, `--props disguised`); how much of a matte stays from frame to frame tells little of what leaked before.
 */

export interface CarrySigns {
  /** Overlap of where the matte was carried to and what was found there, 0 to 1. */
  kept: number
  /** Logarithm of its area over that of where it was carried to. */
  grown: number
  /** Share of its edge along which neighbours on both sides look the same, 0 to 1. */
  plain: number
}

/** Levels squared by which neighbours differ along an edge that is seen; colour differences count twice. */
const seenEdge = 12 ** 2
/** Share of a plain edge up to which it is as it should be, and from which on nothing is sure. */
const usual = 0.13
const hopeless = 0.29

/** `label` and `was`: 1 for each pixel of the grid that is wanted now, and to which the matte before was carried. */
export function signsOf({ width, height, luma, u, v }: Grid, label: Uint8Array, was: Uint8Array): CarrySigns {
  let [both, either, now, before, edge, plain] = [0, 0, 0, 0, 0, 0]
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [a, b] = [label[i]!, was[i]!]
      both += a & b
      either += a | b
      now += a
      before += b
      for (const to of [x + 1 < width ? i + 1 : i, y + 1 < height ? i + width : i]) {
        if (a === label[to]) continue
        edge++
        const apart = (luma[i]! - luma[to]!) ** 2 + 2 * ((u[i]! - u[to]!) ** 2 + (v[i]! - v[to]!) ** 2)
        if (apart < seenEdge) plain++
      }
    }
  return {
    kept: either ? both / either : 0,
    grown: Math.log((now + 1) / (before + 1)),
    plain: edge ? plain / edge : 0,
  }
}

/** How sure a frame is by itself, 0 to 1. */
export const sureness = ({ kept, plain }: CarrySigns): number =>
  kept * (1 - Math.max(0, Math.min(1, (plain - usual) / (hopeless - usual))))

/** The logarithm of an area that changes at once by more than a limb that comes out; and how near to before it is right again. */
const jump = 0.25
const again = 0.15
/** What a frame after a jump is at most: it is worth a look. */
const doubtful = 0.45

/** After a leak, or a loss, all frames look as sure as before: they are not until the area is what it was. */
export class JumpWatch {
  private off = 0
  private jumped = false

  /** How sure a frame is, that has `grown` by so much from the one before and is so sure by itself. */
  after(grown: number, sure: number): number {
    if (Math.abs(grown) > jump) this.jumped = true
    if (this.jumped) this.off += grown
    if (Math.abs(this.off) < again) [this.jumped, this.off] = [false, 0]
    return this.jumped ? Math.min(doubtful, sure) : sure
  }
}
