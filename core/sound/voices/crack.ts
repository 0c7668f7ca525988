import { choice, number } from '../../parameters/builders.ts'
import { falling } from '../signal/envelope.ts'
import { Chances } from '../signal/random.ts'
import type { Stereo } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addDrop, addModes, addNoise, addRoom, strokeOf } from './layers.ts'

export const crack = defineVoice('crack', {
  title: 'Crack',
  summary: 'Two props that meet: of wood, of sparks, or of steel that rings on.',
  group: 'Props',
  ways: ['moments'],
  moments: 'contacts',
  parameters: {
    body: choice('Body', { wood: 'of wood', spark: 'of sparks', steel: 'of steel' }, 'What meets.'),
    ring: number('Ring', 's', [0.05, 4, 0.05], 0.7, 'How long it rings on.'),
    weight: number('Weight', '%', [0, 1, 0.01], 0.5, 'How much low blow lies under it.'),
  },
  sentence: 'Crack {body} {when}',
})

export const crackSound: SoundOf<typeof crack> = {
  stroke({ body, ring, weight }, { seed, pitch, strength }) {
    return {
      lead: 0,
      sound: strokeOf(
        ring + 0.3,
        (out) => {
          bodies[body](out, { seed, pitch, ring, bright: 0.5 + 0.5 * strength })
          addDrop(out, {
            at: 0,
            from: 180 * pitch,
            to: 55 * pitch,
            fall: 0.08,
            decay: 0.16 + 0.2 * weight,
            gain: weight,
          })
        },
        2.2,
      ),
    }
  },
}

interface Blow {
  seed: number
  pitch: number
  ring: number
  /** How hard it is, 0 to 1. */
  bright: number
}

const bodies: Record<'wood' | 'spark' | 'steel', (out: Stereo, blow: Blow) => void> = {
  wood(out, { seed, pitch, ring, bright }) {
    // A beam free at both ends: ratios 1, 2.756, 5.404, 8.933 (Fletcher and Rossing, The Physics of Musical Instruments).
    const ratios = [1, 2.756, 5.404, 8.933]
    for (const [note, gain, late] of [
      [420, 0.8, 0],
      [563, 0.6, 0.004],
    ] as const)
      addModes(
        out,
        late,
        ratios.map((ratio, k) => ({
          frequency: note * ratio * pitch,
          gain: (gain * bright ** k) / (k + 1),
          decay: (0.5 * ring) / (k + 1),
        })),
        seed,
        0.05,
      )
    burst(out, seed + 3, 0.018, 2600 * pitch, 1.2 * bright)
    addRoom(out, 0.006, ring + 0.25, 0.5, 1800, seed + 4)
  },
  spark(out, { seed, pitch, ring, bright }) {
    burst(out, seed, 0.03, 6500 * pitch, 1.4)
    // Discharges close together at first, then rarer and weaker.
    const chances = new Chances(seed + 1)
    for (let time = 0.002; time < ring; time += chances.between(0.001, 0.006 + 0.05 * (time / ring) ** 1.5)) {
      const gain = bright * falling(time, ring) * chances.between(0.15, 0.9)
      const frequency = pitch * chances.between(1800, 9000)
      addModes(out, time, [{ frequency, gain, decay: chances.between(0.004, 0.02) }], seed + Math.round(time * 1e5), 0)
    }
    addNoise(
      out,
      {
        ...{ at: 0, length: ring, filter: 'highpass', q: 0.8, middle: 0.2 },
        frequency: (u) => pitch * (2500 + 3500 * u),
        level: (u) => 0.4 * falling(u, 0.9),
      },
      seed + 2,
    )
  },
  steel(out, { seed, pitch, ring, bright }) {
    // A plate's modes stand densely and out of tune.
    const chances = new Chances(seed)
    const modes = Array.from({ length: 22 }, (_, k) => ({
      frequency: pitch * 610 * (1 + 0.83 * k + 0.35 * chances.noise()),
      gain: (0.9 * bright ** (k / 8)) / (1 + 0.25 * k),
      decay: (1.6 * ring) / (1 + 0.12 * k),
    }))
    addModes(out, 0, modes, seed + 1, 0.01)
    burst(out, seed + 2, 0.008, 7000 * pitch, 0.8 * bright)
    addRoom(out, 0.004, ring, 0.08, 4000, seed + 3)
  },
}

/** The touch itself: a short noise. */
const burst = (out: Stereo, seed: number, length: number, frequency: number, gain: number): void =>
  addNoise(
    out,
    {
      at: 0,
      length,
      filter: 'bandpass',
      q: 0.6,
      frequency: () => frequency,
      level: (u) => gain * falling(u, 1),
      middle: 0.9,
    },
    seed,
  )
