/**
 * Share of a sound in the left and in the right channel, by its place from -1 (left) to 1 (right): of equal power, so that it
 * is as loud everywhere, and 3.01 dB down on both sides in the middle.
 */
export function equalPower(place: number): [left: number, right: number] {
  const angle = ((Math.min(1, Math.max(-1, place)) + 1) * Math.PI) / 4
  return [Math.cos(angle), Math.sin(angle)]
}

/** Metres from which a sound is as loud as it was made. */
export const nearest = 1

/** Factor of a sound so many metres away: half at twice the distance. */
export const farther = (metres: number): number => nearest / Math.max(nearest, metres)

/**
 * Hertz up to which the air lets a sound through: all of it nearby, 6 kHz at 20 m, as far as a listener takes for distance.
 * Common practice, no source.
 */
export const airCutoff = (metres: number): number => 20_000 / (1 + Math.max(0, metres - nearest) / 8)
