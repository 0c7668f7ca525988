import { choice, number } from '../../parameters/builders.ts'
import { StereoBiquad } from '../signal/biquad.ts'
import { Chances } from '../signal/random.ts'
import { blockSize, soundRate, stereo } from '../signal/stereo.ts'
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
    const tone = new StereoBiquad()
    const roar = new StereoBiquad()
    const [voices, air, noises] = [stereo(blockSize), stereo(blockSize), stereo(blockSize)]
    let hold = 0
    return ({ left, right }, from, to, { body, note, warmth, beating, unrest }, pitch) => {
      const count = to - from
      const table = bodies[body]
      const step = (note * pitch) / soundRate
      const beat = beating / 2 / soundRate
      const cutoff = 400 * 40 ** (1 - warmth) * Math.sqrt(pitch)
      tone.set('lowpass', cutoff, 0.8)
      roar.set('bandpass', note * pitch * 3.1, 1.2)
      const [wiry, rough] = [body === 'wire' ? 0.35 : 0, 6 * (body === 'furnace' ? 0.5 + unrest : 0.25 * unrest)]
      hold -= count
      if (hold < 0) {
        hold += soundRate / 20
        state[5] = chances.noise()
      }
      const wanted = state[5]!
      if (rough) chances.fill(noises, count)
      // Plain variables while it runs: they are not wrapped one by one. Two voices a beat apart, one an octave below.
      let [one, two, below, above, waver] = state as unknown as [number, number, number, number, number]
      for (let i = 0; i < count; i++) {
        one += step - beat
        if (one >= 1) one -= 1
        two += step + beat
        if (two >= 1) two -= 1
        below += step / 2
        if (below >= 1) below -= 1
        const a = at(table, one)
        const b = at(table, two)
        const low = at(bodies.reed, below)
        let high = 0
        if (wiry) {
          above += 2.006 * step
          if (above >= 1) above -= 1
          high = wiry * at(table, above) * (1 + 4 * low)
        }
        voices.left[i] = 0.8 * a + 0.5 * b + 0.5 * low + high
        voices.right[i] = 0.5 * a + 0.8 * b + 0.5 * low - high
        // What roars follows the wave itself: noise as strong as the voice is at the moment.
        const noise = rough * Math.abs(a)
        air.left[i] = noise * noises.left[i]!
        air.right[i] = noise * noises.right[i]!
      }
      tone.runBoth(voices, 0, count)
      if (rough) roar.runBoth(air, 0, count)
      for (let i = 0; i < count; i++) {
        waver += (wanted - waver) * 0.0006
        const level = 1 + unrest * 0.9 * waver
        left[from + i]! += level * (voices.left[i]! + air.left[i]!)
        right[from + i]! += level * (voices.right[i]! + air.right[i]!)
      }
      state[0] = Math.max(0, one)
      state[1] = Math.max(0, two)
      state[2] = below
      state[3] = above
      state[4] = waver
    }
  },
}
