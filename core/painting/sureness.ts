import type { Grid } from './grid.ts'

/*
 * How sure a carried matte is: a logistic model of three signs, each against what is known of the frame that it was carried
 * from. How it was fitted, and how well it tells on clips that it was not fitted to, stands in docs/following.md.
 */

/** What tells whether a matte still is what was painted. */
export interface MatteSigns {
  /** Share of it that stayed as it was carried there from the frame before, 0 to 1. */
  kept: number
  /**
   * By how much its area has grown since the known frame, as a logarithm: by what was added to it and taken from it anew, not by
   * coming nearer, which it was carried along with.
   */
  grown: number
  /** Share of its edge along which both sides look the same, more than on the known frame. */
  weaker: number
}

const weights = { kept: 8.3, grown: -41.5, weaker: -34.7, one: -5.4 }
/** So far a sign tells nothing yet (limbs come out, edges run over what is like them), and beyond this no more than at it. */
const ranges = { kept: 0.8, grown: [0.05, 0.3], weaker: [0.06, 0.25] } as const

/** How likely it is to overlap by 0.85 and more with what is wanted, 0 to 1. */
export function matteSureness({ kept, grown, weaker }: MatteSigns): number {
  const beyond = (value: number, [from, to]: readonly [number, number]) => Math.max(0, Math.min(to, value) - from)
  const logit =
    weights.one +
    weights.kept * Math.max(ranges.kept, kept) +
    weights.grown * beyond(Math.abs(grown), ranges.grown) +
    weights.weaker * beyond(weaker, ranges.weaker)
  return 1 / (1 + Math.exp(-logit))
}

/** Growth from one frame to the next (a logarithm) up to which it is the carrying's own: it rounds small shapes up or down. */
const rounding = 0.015

/**
 * `label` and `was`: 1 for each pixel of a grid that is wanted now, and to which the matte before was carried. `kept`: the share of both
 * that they have in common; `grown`: the logarithm of how the area has grown, beyond what rounding does.
 */
export function changeOf(label: Uint8Array, was: Uint8Array): { kept: number; grown: number } {
  let [both, either, now, before] = [0, 0, 0, 0]
  for (let i = 0; i < label.length; i++) {
    const [a, b] = [label[i]!, was[i]!]
    both += a & b
    either += a | b
    now += a
    before += b
  }
  const grown = Math.log((now + 1) / (before + 1))
  return { kept: either ? both / either : 0, grown: Math.sign(grown) * Math.max(0, Math.abs(grown) - rounding) }
}

/** Pixels of the grid on either side of the edge at which its sides are looked at, and levels below which they look the same. */
const aside = 2
const same = 14

/** Share of the edge of what is wanted along which both sides look the same, 0 to 1. `label`: 1 for each wanted pixel of the grid. */
export function weakEdge({ width, height, luma, u, v }: Grid, label: Uint8Array): number {
  let [edge, weak] = [0, 0]
  const count = (at: number, next: number) => {
    if (label[at] === label[at + next]) return
    edge++
    const [a, b] = [at - aside * next, at + (1 + aside) * next]
    if (a < 0 || b >= luma.length) return
    const apart = (luma[a]! - luma[b]!) ** 2 + 2 * ((u[a]! - u[b]!) ** 2 + (v[a]! - v[b]!) ** 2)
    if (apart < same ** 2) weak++
  }
  for (let y = 0; y < height - 1; y++)
    for (let x = 0; x < width - 1; x++) {
      count(y * width + x, 1)
      count(y * width + x, width)
    }
  return edge ? weak / edge : 0
}
