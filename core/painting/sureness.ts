/*
 * How sure a carried matte is. By itself a frame is as sure as the share of the matte that stayed as it was carried there;
 * but what leaked once stays, and every frame after it looks as sure as those before.
 *
 * The share of the edge along which both sides look the same was tried, too: it told wrong frames from right ones on the
 * clips that it was found on (area under the curve 0.99), and nothing on others, whose right frames have as much of it.
 */

/** The logarithm of an area that changes at once by more than a limb that comes out; and how near to before it is right again. */
const jump = 0.25
const again = 0.15
/** What a frame after a jump is at most: it is worth a look. */
const doubtful = 0.45

/** Watches the area of a matte that is carried: after a jump all frames are doubtful until it is what it was. */
export class JumpWatch {
  private off = 0
  private jumped = false

  /** How sure a frame is whose area has grown by `grown` (a logarithm) from the one before, and that is so sure by itself. */
  after(grown: number, sure: number): number {
    if (Math.abs(grown) > jump) this.jumped = true
    if (this.jumped) this.off += grown
    if (Math.abs(this.off) < again) [this.jumped, this.off] = [false, 0]
    return this.jumped ? Math.min(doubtful, sure) : sure
  }
}

/** `label` and `was`: 1 for each pixel of a grid that is wanted now, and to which the matte before was carried. */
export function changeOf(label: Uint8Array, was: Uint8Array): { kept: number; grown: number } {
  let [both, either, now, before] = [0, 0, 0, 0]
  for (let i = 0; i < label.length; i++) {
    const [a, b] = [label[i]!, was[i]!]
    both += a & b
    either += a | b
    now += a
    before += b
  }
  return { kept: either ? both / either : 0, grown: Math.log((now + 1) / (before + 1)) }
}
