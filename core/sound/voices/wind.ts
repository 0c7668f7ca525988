import { number } from '../../parameters/builders.ts'
import { Biquad } from '../signal/biquad.ts'
import { Chances } from '../signal/random.ts'
import { blockSize, soundRate, stereo } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'

export const wind = defineVoice('wind', {
  title: 'Wind',
  summary: 'Air over open land, in gusts, with a whistle in it.',
  group: 'Air',
  ways: ['through'],
  moments: 'swings',
  parameters: {
    strong: number('Force', '%', [0, 1, 0.01], 0.45, 'From a breath to a storm.'),
    gusts: number('Gusts', '%', [0, 1, 0.01], 0.5, 'How much it comes and goes.'),
    whistle: number('Whistle', '%', [0, 1, 0.01], 0.25, 'How much it sings around edges.'),
  },
  sentence: 'Wind, force {strong}, {when}',
})

export const windSound: SoundOf<typeof wind> = {
  through(seed) {
    const chances = new Chances(seed)
    const sides = [0, 1].map(() => ({ rush: new Biquad(), low: new Biquad(), whistle: new Biquad(), gust: 0.5 }))
    const noise = stereo(blockSize)
    const layer = new Float32Array(blockSize)
    let [wanted, wait, high] = [0.5, 0, 0.5]
    return (out, from, to, { strong, gusts, whistle }, pitch) => {
      chances.fill(noise, to - from)
      for (const [s, side] of sides.entries()) {
        const force = strong * (1 - gusts + 2 * gusts * side.gust)
        side.rush.set('bandpass', pitch * (260 + 1100 * force), 0.55)
        side.low.set('lowpass', 140 * pitch, 0.7)
        side.whistle.set('bandpass', pitch * (520 + 900 * force + 260 * high * (s ? 1 : 0.93)), 22)
        const samples = s ? out.right : out.left
        const [loud, sing] = [0.25 + 1.9 * force, 3.2 * whistle * force * force]
        for (const [filter, gain] of [
          [side.rush, 0.5 * loud],
          [side.low, 0.6 * loud],
          [side.whistle, sing],
        ] as const) {
          layer.set(s ? noise.right : noise.left)
          filter.run(layer, 0, to - from)
          for (let i = from; i < to; i++) samples[i]! += gain * layer[i - from]!
        }
        side.gust += (wanted - side.gust) * (1 - Math.exp((-(to - from) * (s ? 1.7 : 1.4)) / soundRate))
      }
      wait -= (to - from) / soundRate
      if (wait <= 0) {
        wait = chances.between(0.5, 2.2)
        wanted = chances.next()
        high = chances.next()
      }
    }
  },
}
