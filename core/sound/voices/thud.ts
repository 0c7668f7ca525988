import { number } from '../../parameters/builders.ts'
import { falling } from '../signal/envelope.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addDrop, addModes, addNoise, addRoom, strokeOf } from './layers.ts'

export const thud = defineVoice('thud', {
  title: 'Thud',
  summary: 'Something heavy that comes down: a deep blow with dust around it.',
  group: 'People',
  ways: ['moments'],
  moments: 'landings',
  parameters: {
    depth: number('Depth', 'Hz', [25, 160, 1], 52, 'The note of the blow.'),
    length: number('Length', 's', [0.1, 2, 0.05], 0.5, 'How long it sounds on.'),
    dust: number('Dust', '%', [0, 1, 0.01], 0.4, 'What crumbles and rustles after it.'),
  },
  sentence: 'Thud {when}',
})

export const thudSound: SoundOf<typeof thud> = {
  stroke({ depth, length, dust }, { seed, pitch, strength }) {
    const note = depth * pitch
    return {
      lead: 0,
      sound: strokeOf(
        length + 0.4,
        (out) => {
          addDrop(out, { at: 0, from: 3.4 * note, to: note, fall: 0.09, decay: length, gain: 1 })
          addModes(
            out,
            0,
            [2.3, 3.9, 6.1].map((n, k) => ({ frequency: n * note, gain: 0.5 / (k + 1), decay: 0.3 })),
            seed,
            0.1,
          )
          addNoise(
            out,
            {
              ...{ at: 0, length: 0.06, filter: 'lowpass', q: 0.8, middle: 0.8 },
              frequency: (u) => (900 + 2200 * strength) * (1 - 0.7 * u),
              level: (u) => 0.9 * falling(u, 1),
            },
            seed + 1,
          )
          addNoise(
            out,
            {
              ...{ at: 0.04, length: length + 0.3, filter: 'bandpass', q: 0.7, middle: 0.2 },
              frequency: (u) => 2600 - 1500 * u,
              level: (u) => 0.4 * dust * Math.min(1, u * 9) * falling(u, 1.3),
            },
            seed + 2,
          )
          addRoom(out, 0.02, length + 0.35, 0.1, 500, seed + 3)
        },
        2,
      ),
    }
  },
}
