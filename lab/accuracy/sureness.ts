import { clippedSign, signNames } from '#core/tracking/rod/sureness.ts'
import type { FrameError } from './groundRod.ts'

/**
 * Weights of a logistic model of the signs of a frame against whether it was right within 5 px, printed for
 * core/tracking/rod/sureness.ts: gradient descent on the cross entropy, with a little shrinking.
 */
export function fitted(errors: readonly FrameError[]): void {
  const known = errors.filter(({ signs, shown }) => signs && shown >= 0.6)
  const names = [...signNames]
  const weights = new Float64Array(names.length + 1)
  const rows = known.map(({ signs, off }) => ({
    x: [...names.map((name) => clippedSign(signs!, name)), 1],
    y: off <= 5 ? 1 : 0,
  }))
  const scale = names.map((_, i) => Math.sqrt(rows.reduce((sum, { x }) => sum + x[i]! * x[i]!, 0) / rows.length) || 1)
  for (let round = 0; round < 4000; round++) {
    const slope = new Float64Array(weights.length)
    for (const { x, y } of rows) {
      const logit = x.reduce((sum, v, i) => sum + (weights[i]! * v) / (scale[i] ?? 1), 0)
      const miss = 1 / (1 + Math.exp(-logit)) - y
      x.forEach((v, i) => (slope[i]! += (miss * v) / (scale[i] ?? 1)))
    }
    for (let i = 0; i < weights.length; i++)
      weights[i]! -= 0.5 * (slope[i]! / rows.length + (i < names.length ? 0.002 * weights[i]! : 0))
  }
  const told = [...names, 'one'].map((name, i) => `${name}: ${(weights[i]! / (scale[i] ?? 1)).toFixed(2)}`)
  console.log(`  fitted to ${rows.length} frames: ${told.join(', ')}`)
}
