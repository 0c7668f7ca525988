import { describe, expect, it } from 'vitest'
import { recutShot } from '../edits/recutShot.ts'
import { newSound } from '../edits/sounds.ts'
import { filmOf } from '../records/film.ts'
import { Records } from '../records/records.ts'
import type { AnyRecord, Media, Shot, Sound } from '../records/types.ts'
import { checks } from '../checks.ts'
import type { Recording } from '../sound/lane.ts'
import { Mixer } from '../sound/mix.ts'
import { soundRate, stereo } from '../sound/signal/stereo.ts'
import { heardShots, lanesOf } from './lanes.ts'
import { makeSound, soundsOf } from './make.ts'

const media = (id: string, audio = ''): Media => ({
  ...{ type: 'media', id, name: `${id}.mp4`, hash: id.repeat(64).slice(0, 64), codec: 'avc', audio, width: 640 },
  ...{ height: 360, rotation: 0, frames: 48, rate: 24, variableRate: false, seconds: 2, bytes: 1, matrix: 'bt709' },
  ...{ range: 'limited', tagged: true },
})
const shot = (id: string, clip: string, order: number, more: Partial<Shot> = {}): Shot => ({
  ...{ type: 'shot', id, media: clip, name: id, order, in: 0, out: 48, join: 0 },
  ...more,
})
const times = Array.from({ length: 48 }, (_, i) => i / 24)
const at = (...frames: number[]): Partial<Sound> => ({
  ...{ way: 'moments', source: 'frames' },
  beads: frames.map((frame) => ({ at: null, frame, muted: false, gain: 0 })),
})
/** A recording that is 0.5 all along: 4 s. */
const steady: Recording = {
  length: 4 * soundRate,
  read: (_, count, left, right) => {
    left.fill(0.5, 0, count)
    right.fill(0.5, 0, count)
  },
}
/** All that is heard of a film, limited by nothing. */
function film(list: AnyRecord[], seconds: number, level = false) {
  const records = new Records(list)
  const stretches = filmOf(records)
  let start = 0
  const starts = stretches.map(({ from, to }) => (start += (to - from) / 24) - (to - from) / 24)
  const heard = heardShots(records, stretches, starts, () => times)
  const lanes = heard.flatMap((one) => lanesOf(records, one, { recordingOf: () => steady }))
  const out = stereo(seconds * soundRate)
  new Mixer(lanes, level).next(out)
  return { heard, lanes, at: (time: number) => out.left[Math.round(time * soundRate)]! }
}

describe('the sounds of a shot', () => {
  it('are those that were made, and at their end that of its clip, until somebody keeps one', () => {
    const one = shot('s', 'a', 1)
    const mine = makeSound({ id: 'x', shot: 's', kind: 'wind', order: 1 })
    const loud = new Records([media('a', 'aac'), one, mine])
    expect(soundsOf(loud, one).map(({ kind }) => kind)).toEqual(['wind', 'own'])
    const kept = { ...soundsOf(loud, one)[1]!, on: false }
    checks.record(kept)
    expect(soundsOf(new Records([media('a', 'aac'), one, kept]), one)).toEqual([kept])
    expect(soundsOf(new Records([media('a'), one]), one)).toEqual([])
  })
  it('move with their frames when the shot is cut anew', () => {
    const one = shot('s', 'a', 1)
    const mine = makeSound({
      ...{ id: 'x', shot: 's', kind: 'file', order: 1, ...at(20) },
      ...{ range: { from: 10, to: 30, fadeIn: 2, fadeOut: 0 } },
    })
    const diff = recutShot(new Records([media('a'), one, mine]), one, 4, 40, () => 'new')
    expect(diff.put.find((record) => record.type === 'sound')).toMatchObject({
      beads: [{ frame: 16 }],
      range: { from: 6, to: 26, fadeIn: 2 },
    })
  })
  it('a new one rides on a prop, and stands at the playhead where there is none', () => {
    const one = shot('s', 'a', 1)
    const member = { type: 'member', id: 'm', shot: 's', name: 'Pole', kind: 'prop', colour: 0, order: 1 } as const
    const made = newSound(new Records([media('a'), one, member]), 's', 'swish', () => 'n')
    expect(made).toMatchObject({ target: 'm', source: 'swings', way: 'moments' })
    checks.record(made)
    const alone = newSound(new Records([media('a'), one]), 's', 'crack', () => 'n', [], 12)
    expect(alone).toMatchObject({ source: 'frames', beads: [{ frame: 12 }] })
    expect(newSound(new Records([media('a'), one]), 's', 'hum', () => 'n')).toMatchObject({ way: 'through' })
  })
})

describe('a shot that does not run as it was filmed', () => {
  /** A recording whose pitch rises: its phase at a second is 200 t + 100 t² turns, 200 Hz at first and 1000 Hz after four. */
  const rising: Recording = {
    length: 4 * soundRate,
    read(from, count, left, right) {
      for (let i = 0; i < count; i++) {
        const t = (from + i) / soundRate
        left[i] = right[i] = t < 0 || t >= 4 ? 0 : 0.5 * Math.sin(2 * Math.PI * (200 * t + 100 * t * t))
      }
    },
  }
  const piece = (from: number, step: number, length: number) => ({ from, step, length, between: 'blended' as const })
  /** Turns a second that are heard around a time. */
  const pitch = (timing: Shot['timing'], seconds: number[]) => {
    const one = shot('s', 'a', 1, { timing })
    const records = new Records([media('a', 'aac'), one])
    const heard = heardShots(records, filmOf(records), [0], () => times)
    const lanes = heard.flatMap((each) => lanesOf(records, each, { recordingOf: () => rising }))
    const out = stereo(8 * soundRate)
    new Mixer(lanes, false).next(out)
    return seconds.map((at) => {
      const begin = Math.round((at - 0.1) * soundRate)
      let turns = 0
      for (let i = begin; i < begin + soundRate / 5; i++) if (out.left[i]! < 0 && out.left[i + 1]! >= 0) turns++
      return 5 * turns
    })
  }
  it('is heard as a tape that runs with it: lower where it is slower, backwards, silent while it stands', () => {
    // Seconds 0 to 1 as filmed, 1 to 2 held, then what was second 1 to 2 at half speed.
    const slow = [piece(0, 1, 24), piece(23, 0, 24), piece(24, 0.5, 48)]
    // After half a second 200 + 200 / 2 Hz; a second and a half into the clip 500 Hz, an octave lower.
    const [first, held, low] = pitch(slow, [0.5, 1.5, 3])
    expect(Math.abs(first! - 300)).toBeLessThanOrEqual(5)
    expect(held).toBe(0)
    expect(Math.abs(low! - 250)).toBeLessThanOrEqual(5)
    // From the end of second 2 backwards at double speed: after a quarter of a second it is second 1.5 again, an octave up.
    const [high] = pitch([piece(47, -2, 24)], [0.25])
    expect(Math.abs(high! - 1000)).toBeLessThanOrEqual(10)
  })
  it('has its sounds where their frames are shown, at a rate of its own where its clip has none', () => {
    const one = shot('s', 'a', 1, { timing: [piece(0, 1, 10), piece(9, 0, 14), piece(10, 1, 38)] })
    const sound = makeSound({ id: 'x', shot: 's', kind: 'file', order: 1, ...at(24), takes: ['a'] })
    const varies = { ...media('a', 'aac'), variableRate: true }
    const records = new Records([varies, one, sound])
    const [heard] = heardShots(records, filmOf(records), [0], () => times.map((t) => t + (t > 1 ? 0.5 : 0)))
    const [lane] = lanesOf(records, heard!, { recordingOf: () => steady })
    expect(lane!.clock.sampleOf(24)).toBe(soundRate)
  })
})

describe('a film', () => {
  it('has every sound where its shot begins, and what rings goes on over the cut', () => {
    const list = [
      ...[media('a'), shot('s', 'a', 1), shot('t', 'a', 2)],
      makeSound({ id: 'x', shot: 's', kind: 'boom', order: 1, ...at(40), settings: { length: 3 } }),
      makeSound({ id: 'y', shot: 't', kind: 'tick', order: 1, ...at(24) }),
    ]
    const { heard, lanes } = film(list, 4)
    expect(heard.map((one) => one.at)).toEqual([0, 2])
    const [boom, tick] = lanes
    expect(tick!.clock.sampleOf(24)).toBe(3 * soundRate)
    expect(new Mixer([boom!]).end).toBeGreaterThan(4 * soundRate)
    const out = stereo(3 * soundRate)
    new Mixer([boom!], false).next(out)
    const after = out.left.subarray(2.2 * soundRate, 2.6 * soundRate)
    expect(Math.max(...after.map(Math.abs))).toBeGreaterThan(0.01)
  })
  it('cuts from clip to clip, each at its level, and crosses over where they are joined', () => {
    const cut = [media('a', 'aac'), media('b', 'aac'), shot('s', 'a', 1), shot('t', 'b', 2, { level: -6.0206 })]
    const hard = film(cut, 4)
    expect(hard.at(1)).toBeCloseTo(0.5, 4)
    expect(hard.at(1.98)).toBeCloseTo(0.5, 4)
    expect(hard.at(2.02)).toBeCloseTo(0.25, 4)
    const joined = film([media('a', 'aac'), media('b', 'aac'), shot('s', 'a', 1, { join: 24 }), shot('t', 'b', 2)], 3)
    expect(joined.heard.map((one) => [one.at, one.comes, one.goes])).toEqual([
      [0, 0, 24],
      [1, 24, 0],
    ])
    expect(joined.at(0.9)).toBeCloseTo(0.5, 4)
    // Half way both are 3 dB down: together of equal power, 3 dB more for what is the same in both.
    expect(joined.at(1.5)).toBeCloseTo(0.5 * Math.SQRT2, 3)
    expect(joined.at(2.2)).toBeCloseTo(0.5, 4)
  })
  it('a shot alone has the one that it is joined to behind it', () => {
    const list = [media('a', 'aac'), media('b', 'aac'), shot('s', 'a', 1, { join: 12 }), shot('t', 'b', 2)]
    const records = new Records(list)
    const [first] = filmOf(records)
    const heard = heardShots(records, [first!], [0], () => times)
    expect(heard.map((one) => [one.shot.id, one.at])).toEqual([
      ['s', 0],
      ['t', 1.5],
    ])
  })
})
