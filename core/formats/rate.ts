/** Rates that cameras and files use, and the NTSC ones, which run 1000/1001 slower. */
const wholeRates = [24, 25, 30, 48, 50, 60, 100, 120, 240]
const knownRates = wholeRates.flatMap((rate) => [rate, (rate * 1000) / 1001])

/**
 * The rate a clip is meant to have, to three decimals, from the mean over its frames. Containers round times to a
 * millisecond, which over `seconds` bends the mean a little; within that the nearest usual rate is meant.
 */
export function namedRate(mean: number, seconds: number): number {
  const nearest = knownRates.reduce((best, rate) => (Math.abs(rate - mean) < Math.abs(best - mean) ? rate : best))
  const doubt = mean * (0.0011 / Math.max(seconds, 0.04)) + 0.001
  return Math.round((Math.abs(nearest - mean) <= doubt ? nearest : mean) * 1000) / 1000
}

/** The unrounded rate behind {@link namedRate}: 29.97 stands for 30000/1001. */
export const fullRate = (named: number): number => knownRates.find((rate) => Math.abs(rate - named) < 0.0006) ?? named
