/** How a sound rises and goes: seconds, and the share (0 to 1) that it stays at while it is held. */
export interface Envelope {
  attack: number
  decay: number
  sustain: number
  release: number
}

/**
 * Level 0 to 1 of an envelope at a time after its beginning, for a sound that is held for `held` seconds: straight up within
 * the attack, then exponentially to what is held and to nothing (to a thousandth, -60 dB, of the way within each time).
 */
export function envelopeAt({ attack, decay, sustain, release }: Envelope, time: number, held: number): number {
  if (time < 0) return 0
  if (time <= held) return heldAt(attack, decay, sustain, time)
  return heldAt(attack, decay, sustain, held) * falling(time - held, release)
}

function heldAt(attack: number, decay: number, sustain: number, time: number): number {
  if (time < attack) return time / attack
  return sustain + (1 - sustain) * falling(time - attack, decay)
}

/** What is left of 1 after `time` seconds where it falls by 60 dB within `length` seconds. */
export const falling = (time: number, length: number): number =>
  length > 0 ? Math.exp((-6.907755278982137 * time) / length) : 0
