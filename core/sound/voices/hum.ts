import { choice, number } from '../../parameters/builders.ts'
import { Biquad } from '../signal/biquad.ts'
import { Chances } from '../signal/random.ts'
import { soundRate } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { at, wave } from './waves.ts'

const near = (n: number, middle: number, width: number) => Math.exp(-(((n - middle) / width) ** 2))
const bodies = {
  reed: /* @__PURE__ */ wave((n) => (n % 2 ? 1 : 0.45) / n ** 1.2, 24),
  wire: /* @__PURE__ */ wave((n) => 0.5 / n + 0.9 * near(n, 9, 2.5) + 0.5 * near(n, 17, 3), 32),
  furnace: /* @__PURE__ */ wave((n) => 1 / n ** 0.9, 14),
}

export const hum = defineVoice('hum', {
  title: 'Hum',
  summary: 'A steady voice of light: warm, wiry or roaring, with beats in it. Let the motion bend it.',
  group: 'Light',
  ways: ['through'],
  moments: 'swings',
  parameters: {
    body: choice(
      'Body',
      { reed: 'low and warm', wire: 'bright and wiry', furnace: 'rough and roaring' },
      'What it sounds as if it were made of.',
    ),
    note: number('Note', 'Hz', [30, 440, 1], 92, 'The frequency that it stands on.'),
    warmth: number('Warmth', '%', [0, 1, 0.01], 0.6, 'More is duller and softer, less is brighter.'),
    beating: number('Beating', 'Hz', [0, 12, 0.1], 3.2, 'Beats a second between its two voices.'),
    unrest: number('Unrest', '%', [0, 1, 0.01], 0.3, 'How much its level wavers, and how rough it is.'),
  },
  sentence: 'Hum of {target}, {body}, {when}, pitch {pitch}, level {level}',
})

export const humSound: SoundOf<typeof hum> = {
  through(seed) {
    const chances = new Chances(seed)
    const state = Float64Array.of(chances.next(), chances.next(), chances.next(), chances.next(), 0, 0)
    const filters = [new Biquad(), new Biquad()] as const
    const roar = [new Biquad(), new Biquad()] as const
    let hold = 0
    return ({ left, right }, from, to, { body, note, warmth, beating, unrest }, pitch) => {
      const table = bodies[body]
      const step = (note * pitch) / soundRate
      const beat = beating / 2 / soundRate
      const cutoff = 400 * 40 ** (1 - warmth) * Math.sqrt(pitch)
      for (const one of filters) one.set('lowpass', cutoff, 0.8)
      for (const one of roar) one.set('bandpass', note * pitch * 3.1, 1.2)
      const [wiry, rough] = [body === 'wire' ? 0.35 : 0, 6 * (body === 'furnace' ? 0.5 + unrest : 0.25 * unrest)]
      hold -= to - from
      if (hold < 0) {
        hold += soundRate / 20
        state[5] = chances.noise()
      }
      const wanted = state[5]!
      // Plain variables while it runs: they are not wrapped one by one. Two voices a beat apart, one an octave below.
      let [one, two, below, above, waver] = state as unknown as [number, number, number, number, number]
      for (let i = from; i < to; i++) {
        waver += (wanted - waver) * 0.0006
        one += step - beat
        if (one >= 1) one -= 1
        two += step + beat
        if (two >= 1) two -= 1
        below += step / 2
        if (below >= 1) below -= 1
        const [a, b, low] = [at(table, one), at(table, two), at(bodies.reed, below)]
        let high = 0
        if (wiry) {
          above += 2.006 * step
          if (above >= 1) above -= 1
          high = wiry * at(table, above) * (1 + 4 * low)
        }
        const level = 1 + unrest * 0.9 * waver
        // What roars follows the wave itself: noise as strong as the voice is at the moment.
        const noise = rough * Math.abs(a)
        const air = noise ? noise * chances.noise() : 0
        const other = noise ? noise * chances.noise() : 0
        left[i]! += level * (filters[0].step(0.8 * a + 0.5 * b + 0.5 * low + high) + roar[0].step(air))
        right[i]! += level * (filters[1].step(0.5 * a + 0.8 * b + 0.5 * low - high) + roar[1].step(other))
      }
      state.set([Math.max(0, one), Math.max(0, two), below, above, waver])
    }
  },
}
