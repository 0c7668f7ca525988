import { choice, number } from '../../parameters/builders.ts'
import { falling } from '../signal/envelope.ts'
import { Chances } from '../signal/random.ts'
import type { Stereo } from '../signal/stereo.ts'
import { defineVoice, type SoundOf } from '../voice.ts'
import { addDrop, addModes, addNoise, addRoom, strokeOf } from './layers.ts'

export const step = defineVoice('step', {
  title: 'Step',
  summary: 'A foot set down, heel and ball: on boards, on gravel or in mud.',
  group: 'People',
  ways: ['moments'],
  moments: 'landings',
  parameters: {
    ground: choice('Ground', { boards: 'on boards', gravel: 'on gravel', mud: 'in mud' }, 'What is trodden on.'),
    weight: number('Weight', '%', [0, 1, 0.01], 0.5, 'How heavily it is set down.'),
    roll: number('Roll', 's', [0, 0.3, 0.01], 0.09, 'Time from the heel to the ball.'),
  },
  sentence: 'Step {ground} {when}',
})

export const stepSound: SoundOf<typeof step> = {
  stroke({ ground, weight, roll }, { seed, pitch, strength }) {
    return {
      lead: 0,
      sound: strokeOf(0.75, (out) => {
        const hard = 0.6 + 0.4 * strength
        addDrop(out, { at: 0, from: 140 * pitch, to: 62 * pitch, fall: 0.07, decay: 0.18, gain: (0.3 + weight) * hard })
        grounds[ground](out, { at: 0, seed, pitch, hard })
        if (roll > 0) grounds[ground](out, { at: roll, seed: seed + 50, pitch: pitch * 1.2, hard: 0.5 * hard })
        addRoom(out, 0.01, 0.5, 0.07, 900, seed + 9)
      }),
    }
  },
}

interface Tread {
  at: number
  seed: number
  pitch: number
  hard: number
}
const grounds: Record<'boards' | 'gravel' | 'mud', (out: Stereo, tread: Tread) => void> = {
  boards(out, { at, seed, pitch, hard }) {
    const note = (frequency: number, gain: number, decay: number) => ({ frequency: frequency * pitch, gain, decay })
    addModes(
      out,
      at,
      [note(148, 0.7, 0.2), note(232, 0.5, 0.16), note(391, 0.35, 0.1), note(720, 0.2, 0.06)],
      seed,
      0.08,
    )
    scrape(out, at, 0.03, 1900 * pitch, 0.5 * hard, seed + 1)
  },
  gravel(out, { at, seed, pitch, hard }) {
    const chances = new Chances(seed)
    for (let k = 0; k < 26; k++) {
      const late = at + 0.14 * chances.next() ** 1.6
      scrape(
        out,
        late,
        chances.between(0.006, 0.02),
        pitch * chances.between(1500, 6500),
        hard * chances.between(0.2, 0.9),
        seed + k,
      )
    }
  },
  mud(out, { at, seed, pitch, hard }) {
    addNoise(
      out,
      {
        ...{ at, length: 0.16, filter: 'lowpass', q: 3 },
        frequency: (u) => pitch * (380 + 900 * u * u),
        level: (u) => 1.3 * hard * Math.min(1, u * 12) * falling(u, 1.2),
      },
      seed,
    )
    const chances = new Chances(seed)
    // Bubbles: each rises while it bursts.
    for (let k = 0; k < 5; k++) {
      const note = pitch * chances.between(300, 800)
      addDrop(out, {
        at: at + 0.05 + 0.2 * chances.next(),
        from: note,
        to: 1.8 * note,
        fall: 0.12,
        decay: 0.05,
        gain: 0.25 * hard,
      })
    }
  },
}
const scrape = (out: Stereo, at: number, length: number, frequency: number, gain: number, seed: number): void =>
  addNoise(
    out,
    { at, length, filter: 'bandpass', q: 1.1, frequency: () => frequency, level: (u) => gain * falling(u, 1) },
    seed,
  )
