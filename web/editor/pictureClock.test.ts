import { expect, it } from 'vitest'
import { PictureClock } from './pictureClock.ts'

/** Seconds from one look at the clock to the next. */
const look = 1 / 60

/** A sound that loses a share of its time, or stands for a while, until it is told to leave something out. */
class Sound {
  place: number
  left = 0
  constructor(from: number) {
    this.place = from
  }
  at() {
    return this.place
  }
  leaveOut(seconds: number) {
    this.place += seconds
    this.left += seconds
  }
}

/** Plays for some seconds; `heard` says how far the sound goes on in a look. Gives how far apart both were, most of all. */
function play(
  clock: PictureClock,
  time: { now: number },
  sound: Sound,
  seconds: number,
  heard: (at: number) => number,
) {
  clock.heard = sound
  let apart = 0
  const end = time.now + seconds
  while (time.now < end) {
    time.now += look
    sound.place += heard(time.now)
    apart = Math.max(apart, Math.abs(clock.time(null) - sound.place))
  }
  return apart
}

it('a sound that stood still leaves out what it missed; the picture has gone on', () => {
  const time = { now: 100 }
  const clock = new PictureClock(() => time.now, 2)
  const sound = new Sound(2)
  play(clock, time, sound, 4, (at) => (at > 101 && at < 101.6 ? 0 : look))
  expect(clock.time(null)).toBeCloseTo(6, 1)
  expect(sound.left).toBeGreaterThan(0.5)
  expect(sound.left).toBeLessThan(0.65)
})

it('a device that loses a sixth of its time slows nothing down', () => {
  const time = { now: 0 }
  const clock = new PictureClock(() => time.now, 0)
  const apart = play(clock, time, new Sound(0), 20, () => (look * 5) / 6)
  expect(clock.time(null)).toBeGreaterThan(19.8)
  expect(apart).toBeLessThan(0.08)
})

it('a device whose clock is a little slow or quick is followed, and nothing of its sound is left out', () => {
  for (const rate of [0.9998, 1.0002]) {
    const time = { now: 0 }
    const clock = new PictureClock(() => time.now, 0)
    const sound = new Sound(0)
    const apart = play(clock, time, sound, 600, () => look * rate)
    expect(sound.left).toBe(0)
    expect(apart).toBeLessThan(0.01)
  }
})

it('what is heard ahead takes the picture along at once', () => {
  const time = { now: 5 }
  const clock = new PictureClock(() => time.now, 1)
  clock.heard = new Sound(1.5)
  expect(clock.time(null)).toBeCloseTo(1.5, 6)
})

it('a loop begins again where it began, with its sound behind by less than it seems', () => {
  const time = { now: 0 }
  const clock = new PictureClock(() => time.now, 1)
  const round = { from: 1, to: 3 }
  time.now = 1.99
  const sound = new Sound(2.98)
  clock.heard = sound
  expect(clock.time(round)).toBeCloseTo(2.99, 2)
  // The picture is round; the sound will be in a moment.
  time.now = 2.01
  expect(clock.time(round)).toBeCloseTo(1.01, 2)
  expect(sound.left).toBe(0)
  time.now = 9.5
  clock.heard = null
  expect(clock.time(round)).toBeCloseTo(2.5, 2)
})
