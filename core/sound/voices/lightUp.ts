import { number } from '../../parameters/builders.ts'
import { falling } from '../signal/envelope.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addDrop, addModes, addNoise, addRoom, hill, strokeOf } from './layers.ts'

export const lightUp = defineVoice('lightUp', {
  title: 'Light-up',
  summary: 'A light that catches: a blow, and a rush upwards that ends in a ring.',
  group: 'Light',
  ways: ['moments'],
  moments: 'comes',
  parameters: {
    length: number('Length', 's', [0.2, 3, 0.05], 0.9, 'How long the rush takes.'),
    note: number('Note', 'Hz', [30, 440, 1], 92, 'What it rings on: that of the hum.'),
    air: number('Air', '%', [0, 1, 0.01], 0.6, 'How much rushing air is in it.'),
  },
  sentence: 'Light-up {when}, {length} long',
})

export const lightUpSound: SoundOf<typeof lightUp> = {
  stroke({ length, note, air }, { seed, pitch, strength }) {
    const top = note * pitch
    return {
      lead: 0.04,
      sound: strokeOf(length + 0.8, (out) => {
        addDrop(out, { at: 0.03, from: 3 * top, to: 0.7 * top, fall: 0.12, decay: 0.5, gain: 0.9 })
        addNoise(
          out,
          {
            ...{ at: 0, length, filter: 'bandpass', q: 1.4 },
            frequency: (u) => pitch * 260 * (10 + 14 * strength) ** u,
            level: (u) => air * hill(u, 0.6) ** 1.3,
          },
          seed,
        )
        addNoise(
          out,
          {
            ...{ at: 0, length: 0.09, filter: 'highpass', q: 0.7 },
            frequency: () => 2400 * pitch,
            level: (u) => 0.7 * falling(u, 1),
          },
          seed + 1,
        )
        // It arrives where the hum stands.
        const harmonics = [1, 2, 3, 4, 6, 9]
        addModes(
          out,
          0.55 * length,
          harmonics.map((n) => ({ frequency: top * n, gain: 0.45 / n ** 0.7, decay: 0.8 + 0.2 / n })),
          seed + 2,
          0.004,
        )
        addRoom(out, 0.05, length + 0.6, 0.08, 2600, seed + 3)
      }),
    }
  },
}
