import { number } from '../../parameters/builders.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addDrop, addModes, addNoise, addRoom, strokeOf } from './layers.ts'

export const putOut = defineVoice('putOut', {
  title: 'Put-out',
  summary: 'A light that goes: it sinks, flutters and leaves a hiss.',
  group: 'Light',
  ways: ['moments'],
  moments: 'goes',
  parameters: {
    length: number('Length', 's', [0.2, 3, 0.05], 0.8, 'How long it takes to go.'),
    note: number('Note', 'Hz', [30, 440, 1], 92, 'What it sinks from: the note of the hum.'),
    hiss: number('Hiss', '%', [0, 1, 0.01], 0.5, 'How much of it ends in steam.'),
  },
  sentence: 'Put-out {when}, {length} long',
})

export const putOutSound: SoundOf<typeof putOut> = {
  stroke({ length, note, hiss }, { seed, pitch }) {
    const top = note * pitch
    return {
      lead: 0.02,
      sound: strokeOf(length + 0.7, (out) => {
        for (const n of [1, 2, 3.01, 5.02])
          addDrop(out, { at: 0, from: top * n, to: top * n * 0.22, fall: 1.4 * length, decay: length, gain: 0.5 / n })
        addNoise(
          out,
          {
            ...{ at: 0, length, filter: 'bandpass', q: 2.2 },
            frequency: (u) => pitch * 2600 * 0.06 ** u,
            // It flutters, slower and slower.
            level: (u) => 0.7 * (1 - u) * (0.55 + 0.45 * Math.cos(2 * Math.PI * 11 * Math.sqrt(u) * length)),
          },
          seed,
        )
        addNoise(
          out,
          {
            ...{ at: 0.25 * length, length: 0.75 * length + 0.5, filter: 'highpass', q: 0.7, middle: 0.2 },
            frequency: (u) => pitch * (5200 - 2200 * u),
            level: (u) => 0.3 * hiss * Math.min(1, u * 8) * (1 - u) ** 2,
          },
          seed + 1,
        )
        addModes(out, 0, [{ frequency: 6 * top, gain: 0.25, decay: 0.09 }], seed + 2)
        addRoom(out, 0.05, length + 0.5, 0.05, 1500, seed + 3)
      }),
    }
  },
}
