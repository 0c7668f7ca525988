import { describe, expect, it } from 'vitest'
import { defaultsOf } from '../parameters/values.ts'
import { soundKind } from './catalogue.ts'
import { FrameClock } from './clock.ts'
import type { Lane, Recording } from './lane.ts'
import { Mixer } from './mix.ts'
import { decibelsOf, soundRate, stereo } from './signal/stereo.ts'
import { soundOf } from './sounds.ts'

const clock = new FrameClock(96, 24)
const second = soundRate

/** A recording that is what `at` says at every sample. */
const recording = (length: number, at: (sample: number) => number): Recording => ({
  length,
  read(from, count, left, right) {
    for (let i = 0; i < count; i++) {
      const sample = from + i
      left[i] = right[i] = sample >= 0 && sample < length ? at(sample) : 0
    }
  },
})
const click = recording(200, (i) => (i < 4 ? 0.5 : 0))
const tone = (hertz: number, seconds = 4) =>
  recording(seconds * second, (i) => 0.25 * Math.sin((2 * Math.PI * hertz * i) / soundRate))

function lane(given: Partial<Lane> & { still?: Record<string, number> }): Lane {
  const { still = {}, ...rest } = given
  const kind = rest.kind ?? 'file'
  const { parameters } = soundKind(kind)
  const settings = { ...defaultsOf(parameters), ...still }
  const numbers = Object.fromEntries(
    parameters.flatMap((p) =>
      p.type === 'number' && p.keyed
        ? [[p.name, { values: Float32Array.of(settings[p.name] as number), perFrame: 0 }]]
        : [],
    ),
  )
  return {
    ...{
      id: 'a',
      kind,
      voice: soundOf(kind),
      way: 'moments',
      clock,
      from: 0,
      to: 4 * second,
      fadeIn: 0,
      fadeOut: 0,
      settings,
      beats: [],
    },
    ...{ takes: [], begin: 0, loops: false, gain: 0, signature: JSON.stringify([rest.id, still, rest.gain]) },
    ...rest,
    numbers: { ...numbers, ...rest.numbers },
  }
}
const beat = (frame: number, take = 0, given = {}) => ({ frame, strength: 1, gain: 0, take, seed: 1, ...given })
function mixed(lanes: Lane[], from: number, count: number, limits = false) {
  const mixer = new Mixer(lanes, limits)
  mixer.seek(from)
  const out = stereo(count)
  mixer.next(out)
  return out
}
const firstLoud = (samples: Float32Array, level = 0.1) => samples.findIndex((v) => Math.abs(v) > level)
const rms = (samples: Float32Array) => Math.sqrt(samples.reduce((sum, v) => sum + v * v, 0) / samples.length)

describe('the mix', () => {
  it('a click at frame n begins at n / rate to the sample, limited or not, wherever the mix begins', () => {
    for (const frame of [0, 12, 31, 50.5]) {
      const at = Math.round((frame / 24) * soundRate)
      for (const limits of [false, true])
        for (const from of [0, Math.max(0, at - 1000), Math.max(0, at - 77)]) {
          const out = mixed([lane({ takes: [click], beats: [beat(frame)] })], from, at - from + 500, limits)
          expect(firstLoud(out.left) + from).toBe(at)
        }
    }
  })
  it('is the same however it is cut into pieces', () => {
    const lanes = [
      lane({ takes: [tone(440)], beats: [beat(10), beat(20.3)], still: { pitch: 3 } }),
      lane({ id: 'b', kind: 'swish', beats: [beat(30)] }),
    ]
    const whole = mixed(lanes, 0, 3 * second, true)
    const mixer = new Mixer(lanes)
    const out = stereo(3 * second)
    for (let at = 0, step = 1; at < out.left.length; at += step, step = (step * 7) % 1009) {
      step = Math.min(step, out.left.length - at)
      mixer.next(out, at, at + step)
    }
    expect(out).toEqual(whole)
  })
  it('a voice that begins before its moment has its top there', () => {
    const out = mixed([lane({ kind: 'swish', beats: [beat(48)] })], 0, 4 * second)
    const around = (time: number) => rms(out.left.subarray((time - 0.03) * second, (time + 0.03) * second))
    expect(around(2)).toBeGreaterThan(2 * around(1.88))
    expect(around(2)).toBeGreaterThan(2 * around(2.2))
  })
  it('levels, places and distances are what they say', () => {
    const level = (still: Record<string, number>, gain = 0) => {
      const out = mixed([lane({ way: 'through', takes: [tone(300)], still, gain })], second, second)
      return [decibelsOf(rms(out.left)), decibelsOf(rms(out.right))] as const
    }
    const [left, right] = level({})
    expect(left).toBeCloseTo(right, 6)
    expect(left - decibelsOf(0.25 / Math.SQRT2)).toBeCloseTo(0, 2)
    expect(level({ level: -12 })[0] - left).toBeCloseTo(-12, 3)
    expect(level({}, 6)[1] - left).toBeCloseTo(6, 3)
    // Of equal power: 3 dB more where it is all on one side.
    expect(level({ place: 1 })[1] - left).toBeCloseTo(3.01, 2)
    expect(level({ place: 1 })[0]).toBeLessThan(-100)
    expect(level({ distance: 10 })[0] - left).toBeCloseTo(-20, 0)
    expect(level({ tone: 0.3 })[0] - left).toBeCloseTo(-3, 0)
  })
  it('a recording goes on as long as it lasts, or begins again, or goes at another pitch', () => {
    const short = tone(480, 1)
    const ends = mixed([lane({ way: 'through', takes: [short] })], 0, 2 * second)
    expect(rms(ends.left.subarray(1.1 * second))).toBe(0)
    const loops = mixed([lane({ way: 'through', takes: [short], loops: true })], 0, 3 * second)
    expect(rms(loops.left.subarray(2.2 * second))).toBeCloseTo(0.25 / Math.SQRT2, 3)
    const crossings = (samples: Float32Array) =>
      samples.reduce((sum, v, i) => sum + Number(i > 0 && v >= 0 && samples[i - 1]! < 0), 0)
    const high = mixed([lane({ way: 'through', takes: [tone(480)], still: { pitch: 12 } })], 0, second)
    expect(crossings(high.left.subarray(1000))).toBeCloseTo((960 * 47) / 48, -1)
    const driven = { values: Float32Array.from({ length: 97 }, (_, i) => (i < 48 ? 0 : 12)), perFrame: 1 }
    const bent = mixed([lane({ way: 'through', takes: [tone(480)], numbers: { pitch: driven } })], 0, 3 * second)
    expect(crossings(bent.left.subarray(second, 2 * second - 3000))).toBeCloseTo((480 * 15) / 16, -1)
    expect(crossings(bent.left.subarray(2.2 * second, 2.7 * second))).toBeCloseTo(480, -1)
  })
  it('fades at both ends and is not there outside of its range', () => {
    const out = mixed(
      [
        lane({
          way: 'through',
          takes: [tone(500)],
          from: second,
          to: 3 * second,
          fadeIn: second / 2,
          fadeOut: second / 2,
        }),
      ],
      0,
      4 * second,
    )
    const at = (time: number) => rms(out.left.subarray(time * second - 480, time * second + 480))
    expect(at(0.5)).toBe(0)
    expect(decibelsOf(at(1.25) / at(2))).toBeCloseTo(-3.01, 1)
    expect(decibelsOf(at(2.75) / at(2))).toBeCloseTo(-3.01, 1)
    expect(at(3.5)).toBe(0)
  })
  it('a weaker moment is quieter, one that a hand made louder is louder, and takes are those whose turn it is', () => {
    const takes = [click, recording(200, (i) => (i < 4 ? -0.25 : 0))]
    const beats = [beat(0), beat(24, 1), beat(48, 0, { strength: 0.5 }), beat(72, 0, { gain: -6.0206 })]
    const out = mixed([lane({ takes, beats, still: { strength: 20 } })], 0, 4 * second)
    const at = (time: number) => out.left[time * second]!
    expect(at(0)).toBeCloseTo(0.5, 6)
    expect(at(1)).toBeCloseTo(-0.25, 6)
    expect(decibelsOf(at(2) / at(0))).toBeCloseTo(-10, 4)
    expect(at(3)).toBeCloseTo(0.25, 4)
  })
  it('lanes that did not change go on where they are while another one does', () => {
    const hum = lane({ id: 'hum', kind: 'hum', way: 'through' })
    const [alone, changed] = [new Mixer([hum], false), new Mixer([hum, lane({ id: 'x' })], false)]
    const [a, b] = [stereo(second), stereo(second)]
    alone.next(a, 0, 5000)
    changed.next(b, 0, 5000)
    changed.take([hum])
    alone.next(a, 5000)
    changed.next(b, 5000)
    expect(b).toEqual(a)
  })
  it('knows when nothing rings any more', () => {
    expect(new Mixer([lane({ takes: [click], beats: [beat(90)] })]).end).toBe((90 / 24) * second + 200)
    expect(new Mixer([lane({ kind: 'boom', beats: [beat(90)] })]).end).toBeGreaterThan(5 * second)
    expect(new Mixer([]).end).toBe(0)
  })
  it('a file that is not there is silence', () => {
    const none = recording(0, () => 1)
    const out = mixed(
      [lane({ way: 'through', takes: [none] }), lane({ takes: [none], beats: [beat(1)] }), lane({ beats: [beat(2)] })],
      0,
      second,
    )
    expect(rms(out.left)).toBe(0)
  })
})

describe('the clock of frames', () => {
  it('goes by the rate, or by the times of a clip that has none', () => {
    expect(new FrameClock(10, 30000 / 1001).sampleOf(30000)).toBeCloseTo(1001 * soundRate, 3)
    const uneven = new FrameClock(3, 10, [0, 0.1, 0.3, 0.35], 1000)
    expect([0, 1, 1.5, 2, 3, 4].map((frame) => Math.round(uneven.sampleOf(frame)))).toEqual([
      1000, 5800, 10600, 15400, 17800, 22600,
    ])
    for (const frame of [-1, 0, 0.4, 1.5, 2.9, 5]) expect(uneven.frameAt(uneven.sampleOf(frame))).toBeCloseTo(frame, 6)
  })
})
