import type { Settings } from '../parameters/parameters.ts'
import { type Beat, type Lane, numberOf, type Recording, softer } from './lane.ts'
import { StereoBiquad } from './signal/biquad.ts'
import { airCutoff, equalPower, farther } from './signal/place.ts'
import { sincAt, sincReach } from './signal/sinc.ts'
import { blockSize, gainOf, ratioOf, soundRate, type Stereo, stereo } from './signal/stereo.ts'
import type { Running, Stroke } from './voice.ts'

/** Samples before its moment within which every stroke begins. */
const longestLead = soundRate
/** Samples within which a filter has forgotten what it heard: a low one of 100 Hz is down by far more than 200 dB. */
const fading = soundRate / 4
/** Samples within which every stroke of a voice has ended. */
const ringing = 10 * soundRate
/** The fastest that a recording is read: two octaves up. */
const fastest = 4
const reach = sincReach(fastest)

/** Strokes that were made last, by all that they are made from: a moment that is moved, or heard again, is not made anew. */
const kept = new Map<string, Stroke>()
const keptAtMost = 160
function keptStroke({ kind, voice }: Lane, settings: Settings, { seed, strength }: Beat): Stroke {
  const name = JSON.stringify([kind, settings, seed, strength])
  const known = kept.get(name)
  if (known) return known
  const pitch = ratioOf(typeof settings.pitch === 'number' ? settings.pitch : 0)
  const stroke = voice.stroke!(settings, { seed, strength, pitch })
  if (kept.size >= keptAtMost) kept.delete(kept.keys().next().value!)
  kept.set(name, stroke)
  return stroke
}

/** Plays a lane block by block. Nothing is allocated while it runs but the strokes of moments that come. */
export class LaneRunner {
  readonly lane: Lane
  private readonly work = stereo(blockSize)
  private readonly read = stereo(blockSize * fastest + 2 * reach + 4)
  private readonly filter = new StereoBiquad()
  private running: Running<Settings> | null = null
  /** Where in the recording a lane that is there through has come, in samples. */
  private place = 0
  private next = NaN
  private readonly settings: Settings
  private readonly strokes = new Map<Beat, Stroke>()
  private last: { left: number; right: number; cross: number } | null = null
  /** Samples since something was heard. */
  private silent = 0
  private readonly wanted = { left: 0, right: 0, cross: 0 }
  /** Beats in the order in which they begin to sound. */
  private readonly beats: { beat: Beat; at: number }[]

  constructor(lane: Lane) {
    this.lane = lane
    this.settings = { ...(lane.settings as Settings) }
    this.beats = lane.beats.map((beat) => ({ beat, at: Math.round(lane.clock.sampleOf(beat.frame)) }))
  }

  /** Adds `count` samples, at most a block, from sample `start` on. Blocks follow each other, or it begins anew there. */
  add(out: Stereo, start: number, count: number): void {
    if (start !== this.next) this.begin(start)
    this.next = start + count
    const { work, lane } = this
    work.left.fill(0)
    work.right.fill(0)
    const frame = lane.clock.frameAt(start)
    const heard = lane.way === 'moments' ? this.addBeats(start, count) : this.addThrough(start, count, frame)
    if (heard || this.last) this.finish(out, start, count, frame, heard)
  }

  /** Makes the strokes that are heard between two samples, one at every step: later they are at hand. */
  *strokesBetween(from: number, to: number): Generator<void> {
    if (!this.lane.voice.stroke || this.lane.way !== 'moments') return
    for (const { beat, at } of this.beats)
      if (at + ringing > from && at - longestLead < to) yield void this.strokeOf(beat)
  }

  /** Sample after which nothing of it is heard any more. */
  get end(): number {
    if (this.lane.way === 'through') return this.lane.to
    return this.beats.reduce((end, { beat, at }) => Math.max(end, at + this.lengthOf(beat)), 0)
  }

  /** What of recordings it reads for its next `count` samples from `start` on, at most; more at once than it will. */
  needs(start: number, count: number): { take: Recording; from: number; to: number }[] {
    return this.reads(start, count).flatMap((one) => one.take.sources?.(one.from, one.to) ?? [one])
  }

  private reads(start: number, count: number): { take: Recording; from: number; to: number }[] {
    const { lane } = this
    if (lane.voice.through || lane.voice.stroke) return []
    if (lane.way === 'through') {
      const [take] = lane.takes
      if (!take || start + count <= lane.from || start >= lane.to) return []
      if (start !== this.next) {
        this.begin(start)
        this.next = start
      }
      let from = this.place
      const length = take.length - lane.begin
      if (lane.loops && length > 0 && from >= take.length) from = lane.begin + ((from - lane.begin) % length)
      const to = from + count * fastest + reach
      const all = [{ take, from: from - reach, to }]
      // A loop goes on at its beginning.
      return lane.loops && to > take.length
        ? [...all, { take, from: lane.begin, to: lane.begin + count * fastest + reach }]
        : all
    }
    return this.beats.flatMap(({ beat, at }) => {
      const take = lane.takes[beat.take]
      if (!take || at >= start + count) return []
      const pitch = lane.numbers.pitch ? ratioOf(numberOf(lane.numbers.pitch, beat.frame)) : 1
      const from = lane.begin + Math.max(0, start - at) * pitch
      return from < take.length || !take.length ? [{ take, from: from - reach, to: from + count * pitch + reach }] : []
    })
  }

  private begin(start: number): void {
    const { lane } = this
    this.last = null
    this.filter.reset()
    if (lane.way !== 'through') return
    const { seed } = lane.settings as { seed?: number }
    this.running = lane.voice.through?.(seed ?? 1) ?? null
    // How far a recording has come by then: at its own pace unless its pitch moves.
    this.place = lane.begin
    const pitch = lane.numbers.pitch
    if (!pitch?.perFrame) this.place += Math.max(0, start - lane.from) * ratioOf(pitch ? numberOf(pitch, 0) : 0)
    else
      for (let at = lane.from; at < start; at += blockSize)
        this.place += ratioOf(numberOf(pitch, lane.clock.frameAt(at))) * Math.min(blockSize, start - at)
  }

  private addThrough(start: number, count: number, frame: number): boolean {
    const { lane, work } = this
    const [from, to] = [Math.max(0, lane.from - start), Math.min(count, lane.to - start)]
    if (from >= to) return false
    const pitch = lane.numbers.pitch ? ratioOf(numberOf(lane.numbers.pitch, frame)) : 1
    if (this.running) {
      for (const name in lane.numbers) this.settings[name] = numberOf(lane.numbers[name]!, frame)
      this.running(work, from, to, this.settings, pitch)
      return true
    }
    const [recording] = lane.takes
    if (!recording?.length) return false
    // A loop is as long as what lies after its beginning.
    const length = recording.length - lane.begin
    if (length <= 0) return false
    for (let at = from; at < to;) {
      let place = this.place - lane.begin
      if (place >= length) {
        if (!lane.loops) return at > from
        place %= length
        this.place = lane.begin + place
      }
      const some = lane.loops ? Math.min(to - at, Math.max(1, Math.floor((length - place) / pitch))) : to - at
      this.readInto(recording, this.place, pitch, at, some, 1)
      this.place += some * pitch
      at += some
    }
    return true
  }

  private addBeats(start: number, count: number): boolean {
    const { lane } = this
    let heard = false
    for (const { beat, at } of this.beats) {
      const frame = beat.frame
      if (lane.voice.stroke) {
        // What comes soon is made now: it has to be known how long before its moment it begins.
        if (at - longestLead > start + count) break
        if (at + ringing < start) continue
        const { sound, lead } = this.strokeOf(beat)
        const first = at - Math.round(lead * soundRate)
        const [from, to] = [Math.max(start, first), Math.min(start + count, first + sound.left.length)]
        if (from >= to) continue
        const gain = this.beatGain(beat)
        for (let i = from; i < to; i++) {
          this.work.left[i - start]! += gain * sound.left[i - first]!
          this.work.right[i - start]! += gain * sound.right[i - first]!
        }
        heard = true
        continue
      }
      if (at >= start + count) break
      const recording = lane.takes[beat.take]
      if (!recording?.length) continue
      const pitch = lane.numbers.pitch ? ratioOf(numberOf(lane.numbers.pitch, frame)) : 1
      const from = Math.max(start, at)
      const place = lane.begin + (from - at) * pitch
      if (place >= recording.length) continue
      this.readInto(recording, place, pitch, from - start, start + count - from, this.beatGain(beat))
      heard = true
    }
    return heard
  }

  private beatGain(beat: Beat): number {
    const { strength } = this.lane.settings as { strength?: number }
    return gainOf(softer(strength ?? 0, beat.strength) + beat.gain)
  }

  private strokeOf(beat: Beat): Stroke {
    let stroke = this.strokes.get(beat)
    if (stroke) return stroke
    const { numbers, settings } = this.lane
    const still = { ...settings } as Settings
    for (const name in numbers) still[name] = numberOf(numbers[name]!, beat.frame)
    stroke = keptStroke(this.lane, still, beat)
    this.strokes.set(beat, stroke)
    return stroke
  }

  private lengthOf(beat: Beat): number {
    if (this.lane.voice.stroke) return this.strokeOf(beat).sound.left.length
    const recording = this.lane.takes[beat.take]
    const pitch = this.lane.numbers.pitch ? ratioOf(numberOf(this.lane.numbers.pitch, beat.frame)) : 1
    return Math.max(0, (recording?.length ?? 0) - this.lane.begin) / pitch
  }

  /** Adds `count` samples of a recording, read `pitch` times as fast from `place` on, to the block from `at` on. */
  private readInto(
    recording: Lane['takes'][number],
    place: number,
    pitch: number,
    at: number,
    count: number,
    gain: number,
  ): void {
    const { read, work } = this
    if (pitch === 1 && Number.isInteger(place)) {
      recording.read(place, count, read.left, read.right)
      for (let i = 0; i < count; i++) {
        work.left[at + i]! += gain * read.left[i]!
        work.right[at + i]! += gain * read.right[i]!
      }
      return
    }
    const around = sincReach(pitch)
    const first = Math.floor(place) - around
    recording.read(first, Math.ceil(count * pitch) + 2 * around + 2, read.left, read.right)
    for (let i = 0; i < count; i++) {
      const where = place + i * pitch - first
      work.left[at + i]! += gain * sincAt(read.left, where, pitch)
      work.right[at + i]! += gain * sincAt(read.right, where, pitch)
    }
  }

  /** Tone, level, distance and place, straight from block to block, and into what is heard. */
  private finish(out: Stereo, start: number, count: number, frame: number, heard: boolean): void {
    const { lane, work, wanted } = this
    const n = lane.numbers
    const metres = n.distance ? numberOf(n.distance, frame) : 1
    const cutoff = Math.min(n.tone ? 1000 * numberOf(n.tone, frame) : 20_000, airCutoff(metres))
    if (cutoff < 19_900) {
      this.filter.set('lowpass', cutoff)
      this.filter.runBoth(work, 0, count)
    }
    const level = gainOf((n.level ? numberOf(n.level, frame) : 0) + lane.gain) * farther(metres)
    const place = n.place ? numberOf(n.place, frame) : 0
    const [left, right] = equalPower(place)
    wanted.left = level * left * Math.SQRT2
    wanted.right = level * right * Math.SQRT2
    // Towards one side both channels come together, so that nothing is lost.
    wanted.cross = Math.abs(place) / 2
    const before = (this.last ??= { ...wanted })
    // Plain numbers in the loop, and steps instead of shares: it runs for every sample of every lane.
    let l = before.left
    let r = before.right
    let cross = before.cross
    const step = 1 / count
    const louderLeft = (wanted.left - l) * step
    const louderRight = (wanted.right - r) * step
    const nearer = (wanted.cross - cross) * step
    const { left: toLeft, right: toRight } = out
    const { left: fromLeft, right: fromRight } = work
    if (this.fades(start, count))
      for (let i = 0; i < count; i++) {
        const fade = this.fadeAt(start + i)
        fromLeft[i]! *= fade
        fromRight[i]! *= fade
      }
    for (let i = 0; i < count; i++) {
      l += louderLeft
      r += louderRight
      cross += nearer
      const a = fromLeft[i]!
      const b = fromRight[i]!
      const apart = (b - a) * cross
      toLeft[i]! += l * (a + apart)
      toRight[i]! += r * (b - apart)
    }
    this.silent = heard ? 0 : this.silent + count
    if (this.silent > fading) this.last = null
    else {
      before.left = wanted.left
      before.right = wanted.right
      before.cross = wanted.cross
    }
  }

  /** Whether it fades within a block. */
  private fades(start: number, count: number): boolean {
    const { from, to, fadeIn, fadeOut, way } = this.lane
    return way === 'through' && (start < from + fadeIn || start + count > to - fadeOut)
  }

  /** 0 to 1: fading in and out, of equal power. What hangs on moments fades by where they are, not by how it rings. */
  private fadeAt(sample: number): number {
    const { from, to, fadeIn, fadeOut } = this.lane
    const u = Math.min(fadeIn ? (sample - from) / fadeIn : 1, fadeOut ? (to - sample) / fadeOut : 1, 1)
    return u >= 1 ? 1 : u <= 0 ? 0 : Math.sin((u * Math.PI) / 2)
  }
}
