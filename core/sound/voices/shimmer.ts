import { number } from '../../parameters/builders.ts'
import { Chances } from '../signal/random.ts'
import { soundRate } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { at, wave } from './waves.ts'

const count = 14
const glassy = /* @__PURE__ */ wave((n) => (n === 1 ? 1 : n === 3 ? 0.18 : 0), 3, 0.7)

export const shimmer = defineVoice('shimmer', {
  title: 'Shimmer',
  summary: 'High glassy notes that come and go: dust in a light, a spell, a moon on water.',
  group: 'Light',
  ways: ['through'],
  moments: 'swings',
  parameters: {
    note: number('Note', 'Hz', [200, 2000, 5], 640, 'The lowest of its notes.'),
    pace: number('Pace', 'Hz', [0.1, 12, 0.1], 1.6, 'How often a second its notes come and go.'),
    glass: number('Glass', '%', [0, 1, 0.01], 0.5, 'From pure fifths and octaves to notes out of tune.'),
  },
  sentence: 'Shimmer of {target}, {when}',
})

export const shimmerSound: SoundOf<typeof shimmer> = {
  through(seed) {
    const chances = new Chances(seed)
    // Octaves and fifths, and the same as of a bell.
    const pure = [1, 1.5, 2, 3, 4, 6, 8]
    const bell = [1, 1.41, 2.09, 2.76, 3.89, 5.4, 7.16]
    const notes = Array.from({ length: count }, (_, k) => ({
      ...{ pure: pure[k % pure.length]!, bell: bell[k % bell.length]!, apart: 0.004 * chances.noise() },
      side: 0.8 * chances.noise(),
    }))
    // What changes while it runs lies in lists of numbers: those are not wrapped one by one.
    const phases = Float64Array.from(notes, () => chances.next())
    const waits = Float64Array.from(notes, () => chances.next())
    const [levels, wanted] = [new Float64Array(count), new Float64Array(count)]
    return ({ left, right }, from, to, { note, pace, glass }, pitch) => {
      const near = 1 - Math.exp((-2.5 * pace) / soundRate)
      for (let k = 0; k < count; k++) {
        const { pure, bell, apart, side } = notes[k]!
        const frequency = note * pitch * (pure + (bell - pure) * glass) * (1 + apart)
        if (frequency > 0.45 * soundRate) continue
        waits[k]! -= (pace * (to - from)) / soundRate
        if (waits[k]! <= 0) {
          waits[k] = 0.4 + 1.2 * chances.next()
          wanted[k] = chances.next() ** 2
        }
        const step = frequency / soundRate
        const gain = 0.16 / Math.sqrt(pure)
        const [l, r] = [gain * (1 - side), gain * (1 + side)]
        const aim = wanted[k]!
        let [level, phase] = [levels[k]!, phases[k]!]
        for (let i = from; i < to; i++) {
          level += (aim - level) * near
          phase += step
          if (phase >= 1) phase -= 1
          const v = level * at(glassy, phase)
          left[i]! += v * l
          right[i]! += v * r
        }
        levels[k] = level
        phases[k] = phase
      }
    }
  },
}
