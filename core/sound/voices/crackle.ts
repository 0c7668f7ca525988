import { number } from '../../parameters/builders.ts'
import { Biquad, StereoBiquad } from '../signal/biquad.ts'
import { Chances } from '../signal/random.ts'
import { blockSize, soundRate, stereo } from '../signal/stereo.ts'
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

/** Samples within which at most one snap begins. */
const stretch = 16

export const crackleSound: SoundOf<typeof crackle> = {
  through(seed) {
    const chances = new Chances(seed)
    const snaps = [0, 1, 2].map(() => ({ filter: new Biquad(), level: 0, side: 0 }))
    const burning = new StereoBiquad()
    const noise = stereo(blockSize)
    let [wait, turn, flutter, wanted] = [chances.next(), 0, 0, 0]
    return ({ left, right }, from, to, { density, hardness, breath }, pitch) => {
      const fall = Math.exp(-1 / (soundRate * (0.006 - 0.0045 * hardness)))
      // Snaps begin where a stretch does: a third of a millisecond is not heard.
      for (let at = from; at < to; at += stretch) {
        const count = Math.min(stretch, to - at)
        wait -= (density * count) / soundRate
        if (wait <= 0) {
          // Times between chances that know nothing of each other (Poisson).
          wait -= Math.log(1 - chances.next())
          const snap = snaps[turn++ % snaps.length]!
          snap.level = 0.25 + 0.75 * chances.next() ** 3
          snap.side = 0.7 * chances.noise()
          snap.filter.set('bandpass', pitch * (900 + 6000 * hardness) * (0.5 + chances.next()), 1.5)
        }
        for (const snap of snaps) {
          if (snap.level < 1e-6) continue
          chances.fill(noise, count)
          let { level } = snap
          for (let i = 0; i < count; i++) {
            noise.left[i]! *= level
            level *= fall
          }
          snap.level = level
          snap.filter.run(noise.left, 0, count)
          const toLeft = 1.8 * (1 - snap.side)
          const toRight = 1.8 * (1 + snap.side)
          for (let i = 0; i < count; i++) {
            left[at + i]! += toLeft * noise.left[i]!
            right[at + i]! += toRight * noise.left[i]!
          }
        }
      }
      const before = flutter
      wanted += (chances.next() - wanted) * 0.3
      flutter += (wanted - flutter) * (1 - Math.exp(-0.0004 * (to - from)))
      const step = (flutter - before) / (to - from)
      chances.fill(noise, to - from)
      for (let i = 0; i < to - from; i++) {
        const air = breath * 1.3 * (before + i * step)
        noise.left[i]! *= air
        noise.right[i]! *= air
      }
      burning.set('bandpass', 420 * pitch, 0.5)
      burning.runBoth(noise, 0, to - from)
      for (let i = from; i < to; i++) {
        left[i]! += noise.left[i - from]!
        right[i]! += noise.right[i - from]!
      }
    }
  },
}
