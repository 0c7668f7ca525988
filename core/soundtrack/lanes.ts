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
import { piecesOf, shownTimes } from '../records/timing.ts'
import { isPictures, type Media, type Shot, shotLength, type Sound } from '../records/types.ts'
import { type Scene, sceneOf } from '../render/scene.ts'
import { soundKind } from '../sound/catalogue.ts'
import { FrameClock } from '../sound/clock.ts'
import type { Beat, Lane, NumberTrack, Recording } from '../sound/lane.ts'
import { Chances } from '../sound/signal/random.ts'
import { soundRate } from '../sound/signal/stereo.ts'
import { soundOf } from '../sound/sounds.ts'
import { type TapePiece, TimedRecording } from '../sound/timedRecording.ts'
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
  if (!media.variableRate || isPictures(media) || shot.timing)
    return new FrameClock(length, fullRate(media.rate), null, start)
  return new FrameClock(length, media.rate, shownTimes(shot, times, media.rate), start)
}

/** Where in its clip's sound the pieces of a shot are heard, in samples. */
function tapeOf(shot: Shot, media: Media, times: readonly number[]): TapePiece[] {
  const rate = media.variableRate ? media.rate : fullRate(media.rate)
  const secondsOf = (place: number) => {
    const at = times[Math.floor(place)]
    if (at === undefined) return place / rate
    return at + (place - Math.floor(place)) * ((times[Math.floor(place) + 1] ?? at + 1 / rate) - at)
  }
  let start = 0
  return piecesOf(shot).map(({ from, step, length }): TapePiece => {
    const at = Math.round((start / rate) * soundRate)
    start += length
    const to = Math.round((start / rate) * soundRate)
    // Backwards the frame is heard from its end on.
    const [first, end] = step < 0 ? [from + 1, from + 1 + step * length] : [from, from + step * length]
    return { at, length: to - at, from: secondsOf(first) * soundRate, to: secondsOf(Math.max(0, end)) * soundRate }
  })
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
  const isOwn = sound.kind === 'own'
  const clips = isOwn ? [media] : sound.takes.flatMap((id) => records.get('media', id) ?? [])
  const recordings = clips.filter((clip) => clip.audio).map(recordingOf)
  const timed = isOwn && shot.timing
  // A clip that does not run as it was filmed is heard as a tape that runs with it.
  const takes = timed ? recordings.map((one) => new TimedRecording(one, tapeOf(shot, media, times))) : recordings
  const seed = Number(sound.settings.seed ?? 1)
  const beats = sound.way === 'moments' ? beatsOf(heardMoments(scene, sound), takes.length, seed, [first, last]) : []
  const numbers: Lane['numbers'] = {}
  for (const p of parameters)
    if (p.type === 'number' && p.keyed) numbers[p.name] = trackOf(sound, p, length, scene.read)
  const own = timed ? 0 : isOwn ? (times[shot.in] ?? shot.in / media.rate) : Number(sound.settings.begin ?? 0)
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
    begin: Math.round((own + (isOwn ? (sampleOf(first) - clock.start) / soundRate : 0)) * soundRate),
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
      ...[beats, at, shot.in, shot.out, shot.timing, heard.comes, heard.goes, takes.map((take) => take.length)],
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
