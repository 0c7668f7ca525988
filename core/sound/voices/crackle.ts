import { number } from '../../parameters/builders.ts'
import { Biquad } from '../signal/biquad.ts'
import { Chances } from '../signal/random.ts'
import { soundRate } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'

export const crackle = defineVoice('crackle', {
  title: 'Crackle',
  summary: 'Fire, embers or a bad wire: single snaps over a breath of noise.',
  group: 'Light',
  ways: ['through'],
  moments: 'swings',
  parameters: {
    density: number('Snaps', '', [0.5, 80, 0.5], 14, 'Snaps a second.'),
    hardness: number('Hardness', '%', [0, 1, 0.01], 0.5, 'From soft embers to hard sparks.'),
    breath: number('Breath', '%', [0, 1, 0.01], 0.3, 'How much noise burns under the snaps.'),
  },
  sentence: 'Crackle of {target}, {density} snaps a second, {when}',
})

export const crackleSound: SoundOf<typeof crackle> = {
  through(seed) {
    const chances = new Chances(seed)
    const snaps = [0, 1, 2].map(() => ({ filter: new Biquad(), level: 0, side: 0 }))
    const breaths = [new Biquad(), new Biquad()] as const
    let [wait, turn, flutter] = [chances.next(), 0, 0]
    return ({ left, right }, from, to, { density, hardness, breath }, pitch) => {
      for (const one of breaths) one.set('bandpass', 420 * pitch, 0.5)
      const fall = Math.exp(-1 / (soundRate * (0.006 - 0.0045 * hardness)))
      for (let i = from; i < to; i++) {
        wait -= density / soundRate
        if (wait <= 0) {
          // Times between chances that know nothing of each other (Poisson).
          wait = -Math.log(1 - chances.next())
          const snap = snaps[turn++ % snaps.length]!
          snap.level = 0.25 + 0.75 * chances.next() ** 3
          snap.side = 0.7 * chances.noise()
          snap.filter.set('bandpass', pitch * (900 + 6000 * hardness) * (0.5 + chances.next()), 1.5)
        }
        flutter += (chances.next() - flutter) * 0.0004
        let [l, r] = [0, 0]
        for (const snap of snaps) {
          const v = snap.filter.step(snap.level * chances.noise()) * 1.8
          snap.level *= fall
          l += v * (1 - snap.side)
          r += v * (1 + snap.side)
        }
        const air = breath * 1.3 * flutter
        left[i]! += l + breaths[0].step(air * chances.noise())
        right[i]! += r + breaths[1].step(air * chances.noise())
      }
    }
  },
}
