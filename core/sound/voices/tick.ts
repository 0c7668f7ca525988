import { number } from '../../parameters/builders.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addModes, addNoise, addRoom, strokeOf } from './layers.ts'

export const tick = defineVoice('tick', {
  title: 'Tick',
  summary: 'A small dry tap: a switch, a beak, a nail on wood.',
  group: 'Props',
  ways: ['moments'],
  moments: 'frames',
  parameters: {
    note: number('Note', 'Hz', [400, 6000, 10], 2300, 'What it rings on.'),
    dryness: number('Dryness', '%', [0, 1, 0.01], 0.7, 'From a tap that rings to one that is only touch.'),
  },
  sentence: 'Tick {when}',
})

export const tickSound: SoundOf<typeof tick> = {
  stroke({ note, dryness }, { seed, pitch, strength }) {
    const top = note * pitch
    const ring = 0.02 + 0.16 * (1 - dryness)
    return {
      lead: 0,
      sound: strokeOf(0.3, (out) => {
        addModes(
          out,
          0,
          [1, 1.58, 2.24, 3.6].map((n, k) => ({
            frequency: top * n,
            gain: 0.8 / (k + 1),
            decay: ring / (1 + 0.4 * k),
          })),
          seed,
          0.03,
        )
        addNoise(
          out,
          {
            ...{ at: 0, length: 0.004, filter: 'highpass', q: 0.7, middle: 1 },
            frequency: () => 1500,
            level: (u) => (0.6 + 0.6 * strength) * (1 - u),
          },
          seed + 1,
        )
        addRoom(out, 0.003, 0.2, 0.05, 3000, seed + 2)
      }),
    }
  },
}
