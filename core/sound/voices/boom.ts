import { number } from '../../parameters/builders.ts'
import { falling } from '../signal/envelope.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addDrop, addNoise, strokeOf } from './layers.ts'

export const boom = defineVoice('boom', {
  title: 'Low boom',
  summary: 'A wave of pressure that is felt more than heard, and rolls away.',
  group: 'Air',
  ways: ['moments'],
  moments: 'contacts',
  parameters: {
    depth: number('Depth', 'Hz', [20, 90, 1], 38, 'The note that it sinks to.'),
    length: number('Length', 's', [0.3, 6, 0.1], 2.2, 'How long it rolls.'),
    roll: number('Roll', '%', [0, 1, 0.01], 0.5, 'How much it rumbles while it goes.'),
  },
  sentence: 'Low boom {when}, {length} long',
})

export const boomSound: SoundOf<typeof boom> = {
  stroke({ depth, length, roll }, { seed, pitch, strength }) {
    const note = depth * pitch
    return {
      lead: 0,
      sound: strokeOf(
        length + 0.3,
        (out) => {
          addDrop(out, { at: 0, from: (3 + 2 * strength) * note, to: note, fall: 0.25, decay: length, gain: 1 })
          addDrop(out, { at: 0.01, from: 4.1 * note, to: 1.52 * note, fall: 0.3, decay: 0.7 * length, gain: 0.4 })
          addNoise(
            out,
            {
              ...{ at: 0, length: length + 0.2, filter: 'lowpass', q: 0.8, middle: 0.3 },
              frequency: (u) => pitch * (90 + 900 * falling(u, 0.35)),
              level: (u) =>
                Math.min(1, u * 60) *
                falling(u, 1.1) *
                (0.5 + 1.6 * roll * Math.abs(Math.sin(2 * Math.PI * 3.3 * length * u ** 0.8))),
            },
            seed,
          )
        },
        2.4,
      ),
    }
  },
}
