import { number } from '../../parameters/builders.ts'
import { Chances } from '../signal/random.ts'
import { soundRate } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'

/** Notes that come and go. */
const many = 14

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
    const notes = Array.from({ length: many }, (_, k) => ({
      ...{ pure: pure[k % pure.length]!, bell: bell[k % bell.length]!, apart: 0.004 * chances.noise() },
      side: 0.8 * chances.noise(),
    }))
    // What changes while it runs lies in lists of numbers: those are not wrapped one by one.
    const phases = Float64Array.from(notes, () => chances.next())
    const waits = Float64Array.from(notes, () => chances.next())
    const [levels, wanted] = [new Float64Array(many), new Float64Array(many)]
    return ({ left, right }, from, to, { note, pace, glass }, pitch) => {
      const count = to - from
      const near = 1 - Math.exp((-2.5 * pace * count) / soundRate)
      for (let k = 0; k < many; k++) {
        const { pure, bell, apart, side } = notes[k]!
        const frequency = note * pitch * (pure + (bell - pure) * glass) * (1 + apart)
        if (3 * frequency > 0.5 * soundRate) continue
        waits[k]! -= (pace * count) / soundRate
        if (waits[k]! <= 0) {
          waits[k] = 0.4 + 1.2 * chances.next()
          wanted[k] = chances.next() ** 2
        }
        const before = levels[k]!
        levels[k] = before + (wanted[k]! - before) * near
        const gain = 0.23 / Math.sqrt(pure)
        let level = gain * before
        const louder = (gain * (levels[k]! - before)) / count
        const [toLeft, toRight] = [1 - side, 1 + side]
        // A point that goes round; its height is the note, and by sin 3a = 3 sin a - 4 sin^3 a the glassy one above it.
        const turn = (2 * Math.PI * frequency) / soundRate
        const [across, up] = [Math.cos(turn), Math.sin(turn)]
        let x = Math.cos(2 * Math.PI * phases[k]!)
        let y = Math.sin(2 * Math.PI * phases[k]!)
        for (let i = from; i < to; i++) {
          level += louder
          const v = level * y * (1 + 0.18 * (3 - 4 * y * y))
          left[i]! += v * toLeft
          right[i]! += v * toRight
          const before = x
          x = x * across - y * up
          y = before * up + y * across
        }
        phases[k] = (phases[k]! + (frequency * count) / soundRate) % 1
      }
    }
  },
}
