import { number } from '../../parameters/builders.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addNoise, hill, strokeOf } from './layers.ts'

export const swish = defineVoice('swish', {
  title: 'Swish',
  summary: 'Air that is cut by something fast. It is loudest where the swing is fastest.',
  group: 'Props',
  ways: ['moments'],
  moments: 'swings',
  parameters: {
    length: number('Length', 's', [0.1, 1.5, 0.01], 0.42, 'How long it takes; a strong swing is shorter.'),
    sharpness: number('Sharpness', '%', [0, 1, 0.01], 0.45, 'From a wide, soft air to a thin, whistling one.'),
    weight: number('Weight', '%', [0, 1, 0.01], 0.5, 'How much low rush lies under it.'),
  },
  sentence: 'Swish {when}, {length} long',
})

export const swishSound: SoundOf<typeof swish> = {
  stroke({ length, sharpness, weight }, { seed, pitch, strength }) {
    const seconds = length * (1.25 - 0.45 * strength)
    const top = 0.46
    // A fast swing goes up higher; no two are alike.
    const high = pitch * (700 + 1500 * strength) * (0.9 + 0.2 * ((seed * 0.618034) % 1))
    const layer = { at: 0, length: seconds }
    return {
      lead: top * seconds,
      sound: strokeOf(seconds + 0.12, (out) => {
        addNoise(
          out,
          {
            ...{ ...layer, filter: 'bandpass', q: 0.9 + 3 * sharpness },
            frequency: (u) => high * (0.35 + 0.65 * hill(u, top)),
            level: (u) => hill(u, top) ** 1.6,
          },
          seed,
        )
        addNoise(
          out,
          {
            ...{ ...layer, filter: 'bandpass', q: 14, middle: 0.8 },
            frequency: (u) => high * 2.3 * (0.5 + 0.5 * hill(u, top)),
            level: (u) => 1.6 * sharpness * hill(u, top) ** 3,
          },
          seed + 1,
        )
        addNoise(
          out,
          {
            ...{ at: 0, length: seconds + 0.1, filter: 'lowpass', q: 0.7, middle: 0.7 },
            frequency: (u) => pitch * (120 + 240 * hill(Math.min(1, u * 1.1), top)),
            level: (u) => 1.5 * weight * hill(Math.min(1, u), top + 0.08),
          },
          seed + 2,
        )
      }),
    }
  },
}
