import { fullRate } from '../formats/rate.ts'
import { type HeardMoment, withBeads } from '../motion/beads.ts'
import { momentsOf } from '../motion/moments.ts'
import type { MomentSource } from '../motion/momentSources.ts'
import type { Readings } from '../motion/readings.ts'
import type { ReadSignal } from '../parameters/drives.ts'
import { isCurve, isDrive, type NumberParameter } from '../parameters/parameters.ts'
import { numberAt, settingsAt } from '../parameters/values.ts'
import { joinedShot, joinStart, type Stretch } from '../records/film.ts'
import type { Records } from '../records/records.ts'
import { isPictures, type Media, type Shot, shotLength, type Sound } from '../records/types.ts'
import { type Scene, sceneOf } from '../render/scene.ts'
import { soundKind } from '../sound/catalogue.ts'
import { FrameClock } from '../sound/clock.ts'
import type { Beat, Lane, NumberTrack, Recording } from '../sound/lane.ts'
import { Chances } from '../sound/signal/random.ts'
import { soundRate } from '../sound/signal/stereo.ts'
import { soundOf } from '../sound/sounds.ts'
import { soundsOf } from './make.ts'

/** A shot as it is heard, in a film or alone. */
export interface HeardShot {
  shot: Shot
  media: Media
  /** Seconds of the frames of its clip. */
  times: readonly number[]
  /** When its first frame is shown, in seconds of the film: before 0 where the film begins within it. */
  at: number
  /** Frames over which it comes, and goes, where it is joined to what is before and after. */
  comes: number
  goes: number
}

/**
 * Stretches of a film as they are heard, each from second `starts` on; behind the last one the shot that it is joined to, whose
 * picture is seen there already. `timesOf`: seconds of the frames of a clip.
 */
export function heardShots(
  records: Records,
  stretches: readonly Stretch[],
  starts: readonly number[],
  timesOf: (media: Media) => readonly number[],
): HeardShot[] {
  const out = stretches.map(({ shot, media, from }, i): HeardShot => {
    const times = timesOf(media)
    const clock = clockOf(shot, media, times)
    const goes = joinedShot(records, shot) ? Math.min(shot.join, shotLength(shot)) : 0
    return { ...{ shot, media, times, goes, comes: from }, at: starts[i]! - clock.sampleOf(from) / soundRate }
  })
  const last = out.at(-1)
  const next = last && joinedShot(records, last.shot)
  const media = next && records.get('media', next.shot.media)
  if (!last || !next || !media) return out
  const at = last.at + clockOf(last.shot, last.media, last.times).sampleOf(joinStart(last.shot)) / soundRate
  const comes = Math.round(next.time(shotLength(last.shot)))
  return [...out, { ...{ shot: next.shot, media, at, comes, goes: 0 }, times: timesOf(media) }]
}

/** When a shot's frames are shown: as its clip's rate says where it is constant. */
export function clockOf(shot: Shot, media: Media, times: readonly number[], at = 0): FrameClock {
  const length = shotLength(shot)
  const start = Math.round(at * soundRate)
  if (!media.variableRate || isPictures(media)) return new FrameClock(length, fullRate(media.rate), null, start)
  const from = times[shot.in] ?? 0
  const own = Array.from({ length: length + 1 }, (_, i) => (times[shot.in + i] ?? NaN) - from)
  // Behind the clip's last frame its length is that of the one before.
  if (Number.isNaN(own[length]!)) own[length] = own[length - 1]! + 1 / media.rate
  return new FrameClock(length, media.rate, own, start)
}

/** Moments of a sound as the motion and the hand have them. */
export function heardMoments(scene: Scene, sound: Sound): HeardMoment[] {
  const shot = {
    length: shotLength(scene.shot),
    joinStart: scene.shot.join ? joinStart(scene.shot) : shotLength(scene.shot),
    member: scene.partsOf,
    contacts: scene.contacts,
  }
  return withBeads(momentsOf(shot, sound.source as MomentSource, sound.target, sound.with), sound.beads)
}

export interface LaneWishes {
  readings?: Readings
  recordingOf(media: Media): Recording
  /** Ids of the only sounds to be heard; all that are on where there are none. */
  alone?: ReadonlySet<string>
}

/** The lanes of a shot that are heard, in the order of its sounds. */
export function lanesOf(records: Records, heard: HeardShot, { readings, recordingOf, alone }: LaneWishes): Lane[] {
  const scene = sceneOf(records, heard.shot.id, readings)
  if (!scene) return []
  return soundsOf(records, heard.shot)
    .filter((sound) => (alone?.size ? alone.has(sound.id) : sound.on))
    .map((sound) => laneOf(records, scene, heard, sound, recordingOf))
}

/** One sound of a shot as a lane. */
export function laneOf(
  records: Records,
  scene: Scene,
  heard: HeardShot,
  sound: Sound,
  recordingOf: (media: Media) => Recording,
): Lane {
  const { shot, media, times, at } = heard
  const { parameters } = soundKind(sound.kind)
  const clock = clockOf(shot, media, times, at)
  const length = shotLength(shot)
  const range = sound.range ?? { from: 0, to: length - 1, fadeIn: 0, fadeOut: 0 }
  const [first, last] = [Math.max(0, range.from), Math.min(length - 1, range.to)]
  const sampleOf = (frame: number) => Math.round(clock.sampleOf(frame))
  const frames = (count: number, from: number) => Math.abs(sampleOf(from + count) - sampleOf(from))
  const clips = sound.kind === 'own' ? [media] : sound.takes.flatMap((id) => records.get('media', id) ?? [])
  const takes = clips.filter((clip) => clip.audio).map(recordingOf)
  const seed = Number(sound.settings.seed ?? 1)
  const beats = sound.way === 'moments' ? beatsOf(heardMoments(scene, sound), takes.length, seed, [first, last]) : []
  const numbers: Lane['numbers'] = {}
  for (const p of parameters)
    if (p.type === 'number' && p.keyed) numbers[p.name] = trackOf(sound, p, length, scene.read)
  const own = sound.kind === 'own' ? (times[shot.in] ?? shot.in / media.rate) : Number(sound.settings.begin ?? 0)
  return {
    ...{ id: sound.id, kind: sound.kind, voice: soundOf(sound.kind), way: sound.way, clock, numbers, beats, takes },
    ...{ from: sampleOf(first), to: sampleOf(last + 1) },
    // Ten milliseconds at least: what sets in with a step clicks.
    fadeIn: Math.max(click, frames(range.fadeIn, first), first === 0 ? frames(heard.comes, 0) : 0),
    fadeOut: Math.max(
      click,
      frames(range.fadeOut, last),
      last === length - 1 ? frames(heard.goes, length - heard.goes) : 0,
    ),
    settings: settingsAt(parameters, sound.settings, first, scene.read),
    begin: Math.round((own + (sound.kind === 'own' ? (sampleOf(first) - clock.start) / soundRate : 0)) * soundRate),
    loops: sound.settings.over === 'loop',
    gain: shot.level ?? 0,
    signature: JSON.stringify([
      ...[
        sound.id,
        sound.kind,
        sound.way,
        sound.range,
        sound.settings,
        clips.map((clip) => clip.hash),
        shot.level ?? 0,
      ],
      ...[beats, at, shot.in, shot.out, heard.comes, heard.goes, takes.map((take) => take.length)],
      Object.values(numbers).map(({ values }) => digest(values)),
    ]),
  }
}

const click = soundRate / 100

/** What of the moments is heard: those that are not muted, within the range of frames. Takes take turns, never one twice in a row. */
function beatsOf(
  moments: readonly HeardMoment[],
  takes: number,
  seed: number,
  [first, last]: readonly [number, number],
): Beat[] {
  const chances = new Chances(seed)
  let turn: number[] = []
  let before = -1
  return moments.flatMap(({ frame, strength, muted, gain }, i): Beat[] => {
    if (!turn.length) {
      turn = Array.from({ length: takes }, (_, k) => k)
      for (let k = turn.length - 1; k > 0; k--) {
        const other = Math.floor(chances.next() * (k + 1))
        ;[turn[k], turn[other]] = [turn[other]!, turn[k]!]
      }
      if (turn.length > 1 && turn[0] === before) turn.push(turn.shift()!)
    }
    const take = turn.shift() ?? 0
    before = take
    return muted || frame < first || frame > last + 1
      ? []
      : [{ frame, strength, gain, take, seed: seed * 1009 + i * 31 + 1 }]
  })
}

/** A number over a shot: read four times a frame where it moves; once where there are very many frames. */
function trackOf(sound: Sound, p: NumberParameter, length: number, read: ReadSignal): NumberTrack {
  const value = sound.settings[p.name]
  if (!isCurve(value) && !isDrive(value))
    return { values: Float32Array.of(numberAt(sound.settings, p, 0)), perFrame: 0 }
  const perFrame = length > 5000 && isDrive(value) ? 1 : 4
  return {
    values: Float32Array.from({ length: length * perFrame + 1 }, (_, i) =>
      numberAt(sound.settings, p, i / perFrame, read),
    ),
    perFrame,
  }
}

function digest(values: Float32Array): number {
  let hash = values.length
  for (const value of values) hash = (Math.imul(hash, 31) + Math.round(value * 4096)) | 0
  return hash
}
