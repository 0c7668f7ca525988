import type { Bead } from '../records/types.ts'
import type { Moment } from './moments.ts'

/** A moment as it is heard: as the motion has it, with what a hand did to it. */
export interface HeardMoment extends Moment {
  muted: boolean
  /** Decibels. */
  gain: number
  /** Place of the hand's change in the list of them; -1 where there is none. */
  bead: number
  /** Where the motion has it; null where a hand added it. */
  at: number | null
}

/** Frames by which a moment may have moved in a new tracing and is still the same. */
export const sameMoment = 8

/**
 * Moments with the changes that a hand made. A change is of the nearest moment to where the motion had it; one that was moved
 * by hand stays where the hand put it, even where the new motion has no such moment any more. In rising order.
 */
export function withBeads(moments: readonly Moment[], beads: readonly Bead[]): HeardMoment[] {
  const out: HeardMoment[] = moments.map((moment) => ({ ...moment, muted: false, gain: 0, bead: -1, at: moment.frame }))
  const found = out.slice()
  // The nearest pairs first, so that two changes never fight for one moment.
  const pairs = beads
    .flatMap(({ at }, bead) =>
      at === null ? [] : found.map((moment) => ({ moment, bead, away: Math.abs(moment.frame - at) })),
    )
    .filter(({ away }) => away <= sameMoment)
    .sort((a, b) => a.away - b.away)
  const taken = new Set<number>()
  for (const { moment, bead } of pairs) {
    if (moment.bead >= 0 || taken.has(bead)) continue
    taken.add(bead)
    const { frame, muted, gain } = beads[bead]!
    Object.assign(moment, { muted, gain, bead, frame: frame ?? moment.frame })
  }
  for (const [bead, { at, frame, muted, gain }] of beads.entries())
    if (frame !== null && !taken.has(bead))
      out.push({ frame, strength: 1, muted, gain, bead, at: at === null ? null : at })
  return out.sort((a, b) => a.frame - b.frame)
}

/** The changes with one more, or another one, of a heard moment. What changes nothing any more is left out. */
export function changedBead(
  beads: readonly Bead[],
  moment: HeardMoment,
  change: Partial<Pick<Bead, 'frame' | 'muted' | 'gain'>>,
): Bead[] {
  const before: Bead = beads[moment.bead] ?? { at: moment.at, frame: null, muted: false, gain: 0 }
  const next = { ...before, ...change }
  const rest = beads.filter((_, i) => i !== moment.bead)
  const says = next.at === null || next.frame !== null || next.muted || next.gain !== 0
  return says ? [...rest, next].sort((a, b) => (a.frame ?? a.at ?? 0) - (b.frame ?? b.at ?? 0)) : rest
}
