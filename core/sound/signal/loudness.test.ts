import { describe, expect, it } from 'vitest'
import { type Loudness, LoudnessMeter } from './loudness.ts'
import { decibelsOf, gainOf, soundRate } from './stereo.ts'
import { TruePeak } from './truePeak.ts'

/*
 * EBU Tech 3341 (2016), Loudness metering: 'EBU mode', table 1: its cases that are made of tones. Tones of 1 kHz, levels in
 * decibels of full scale of each channel, seconds.
 */

type Piece = [seconds: number, ...levels: number[]]
const silent = -Infinity

/** A meter that has heard the pieces one after the other; `onHop` hears what it shows every 50 ms. */
function heard(pieces: Piece[], weights = [1, 1], onHop?: (now: Loudness, time: number) => void): LoudnessMeter {
  const meter = new LoudnessMeter(weights)
  let [at, hops] = [0, 0]
  for (const [seconds, ...levels] of pieces) {
    const count = Math.round(seconds * soundRate)
    const channels = weights.map((_, c) => {
      const gain = gainOf(levels[Math.min(c, levels.length - 1)]!)
      return Float32Array.from(
        { length: count },
        (_, i) => gain * Math.sin((2 * Math.PI * 1000 * (at + i)) / soundRate),
      )
    })
    meter.add(channels, 0, count, (now) => onHop?.(now, ++hops / 20))
    at += count
  }
  return meter
}
const tolerance = 0.1
const near = (value: number, wanted: number) => expect(Math.abs(value - wanted)).toBeLessThanOrEqual(tolerance)
const repeated = (times: number, ...pieces: Piece[]) => Array.from({ length: times }, () => pieces).flat()

describe('loudness, EBU Tech 3341', () => {
  it.each([
    [1, -23],
    [2, -33],
  ])('case %i: a steady tone reads %f in all three', (_, level) => {
    const now = heard([[20, level]]).now()
    near(now.momentary, level)
    near(now.shortTerm, level)
    near(now.integrated, level)
  })
  it.each<[number, Piece[]]>([
    [
      3,
      [
        [10, -36],
        [60, -23],
        [10, -36],
      ],
    ],
    [
      4,
      [
        [10, -72],
        [10, -36],
        [60, -23],
        [10, -36],
        [10, -72],
      ],
    ],
    [
      5,
      [
        [20, -26],
        [20.1, -20],
        [20, -26],
      ],
    ],
  ])('case %i: what is quieter is left out of the whole: -23', (_, pieces) => {
    near(heard(pieces).integrated(), -23)
  })
  it('case 6: five channels read -23', () => {
    near(heard([[20, -28, -28, -24, -30, -30]], [1, 1, 1, 1.41, 1.41]).integrated(), -23)
  })
  it('case 9: the short-term loudness stands at -23 from 3 s on', () => {
    heard(repeated(5, [1.34, -20], [1.66, -30]), [1, 1], ({ shortTerm }, time) => {
      if (time >= 3) near(shortTerm, -23)
    })
  })
  it('case 10: a tone of 3 s comes to -23 short-term, wherever it begins', () => {
    for (let i = 0; i < 20; i++) {
      let most = -Infinity
      const pieces: Piece[] = [
        [0.15 * i, silent],
        [3, -23],
        [1, silent],
      ]
      heard(pieces, [1, 1], ({ shortTerm }) => (most = Math.max(most, shortTerm)))
      near(most, -23)
    }
  })
  it('case 11: every tone of 3 s comes to its own level short-term', () => {
    const pieces = Array.from({ length: 20 }, (_, i): Piece[] => [
      ...([
        [0.15 * i, silent],
        [3, -38 + i],
        [3 - 0.15 * i, silent],
      ] as Piece[]),
    ])
    const most = new Float64Array(20).fill(-Infinity)
    heard(pieces.flat(), [1, 1], ({ shortTerm }, time) => {
      const i = Math.min(19, Math.floor((time - 1e-9) / 6))
      most[i] = Math.max(most[i]!, shortTerm)
    })
    most.forEach((level, i) => near(level, -38 + i))
  })
  it('case 12: the momentary loudness stands at -23 from 1 s on', () => {
    heard(repeated(25, [0.18, -20], [0.22, -30]), [1, 1], ({ momentary }, time) => {
      if (time >= 1) near(momentary, -23)
    })
  })
  it('silence has none', () => {
    expect(heard([[3, silent]]).now()).toEqual({ momentary: -Infinity, shortTerm: -Infinity, integrated: -Infinity })
  })
})

describe('true peak, EBU Tech 3341', () => {
  // Sine of a part of the rate, its phase in degrees at the first sample, its amplitude, and what is to be read.
  it.each([
    [15, 4, 0, 0.5, -6],
    [16, 4, 45, 0.5, -6],
    [17, 6, 60, 0.5, -6],
    [18, 8, 67.5, 0.5, -6],
    [19, 4, 45, 1.41, 3],
  ])('case %i: within +0.2 and -0.4 dB', (_, part, phase, amplitude, wanted) => {
    const meter = new TruePeak()
    // It comes and goes, so that nothing but the tone is read.
    const tone = Float32Array.from({ length: soundRate }, (_, i) => {
      const fade = Math.min(1, i / 4800, (soundRate - i) / 4800)
      return fade * amplitude * Math.sin(2 * Math.PI * (i / part + phase / 360))
    })
    meter.take(tone)
    expect(decibelsOf(meter.most)).toBeLessThanOrEqual(wanted + 0.2)
    expect(decibelsOf(meter.most)).toBeGreaterThanOrEqual(wanted - 0.4)
  })
})
