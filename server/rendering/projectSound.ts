import { open } from 'node:fs/promises'
import { join } from 'node:path'
import { wavHead, wavSamples } from '#core/formats/wav.ts'
import type { FilmFrame } from '#core/outgoing/filmFrames.ts'
import { stretchesOf } from '#core/outgoing/orders.ts'
import { wholeMix } from '#core/parameters/drives.ts'
import { joinedShot, type Stretch } from '#core/records/film.ts'
import type { Records } from '#core/records/records.ts'
import type { Media } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import type { Lane } from '#core/sound/lane.ts'
import { FrameLevels } from '#core/sound/level.ts'
import { soundRate, stereo } from '#core/sound/signal/stereo.ts'
import { clockOf, heardShots, lanesOf } from '#core/soundtrack/lanes.ts'
import { levelsOfLanes, Mixdown } from '#core/soundtrack/mixdown.ts'
import type { ClipFiles } from './clips.ts'
import { DecodedSound } from './decodedSound.ts'

/** Samples that are mixed at once. */
const batch = 4096
/** What is decoded lies on the disk whole. */
const isThere = async () => {}

/** What is heard of a project, in Node. */
export class ProjectSound {
  private readonly records: Records
  private readonly clips: ClipFiles
  private readonly folder: string
  private readonly sounds = new Map<string, DecodedSound>()
  /** Sentences about what is not heard, by the id of the clip. */
  readonly troubles = new Map<string, string>()

  /** `folder`: for what is decoded. */
  constructor(records: Records, clips: ClipFiles, folder: string) {
    this.records = records
    this.clips = clips
    this.folder = folder
  }

  close(): void {
    for (const sound of this.sounds.values()) sound.close()
  }

  /** Writes all that is heard of a film of these frames as WAV of 24 bits; gives its samples, 0 where nothing is heard. */
  async write(path: string, stretches: readonly Stretch[], frames: readonly FilmFrame[]): Promise<number> {
    const starts = stretches.map((_, i) => frames.find((one) => one.stretch === i)!.time)
    const lanes = await this.lanes(stretches, starts)
    if (!lanes.length) return 0
    const last = frames.at(-1)!
    const [mixdown, out] = [new Mixdown(lanes, last.time + last.duration, isThere), stereo(batch)]
    const handle = await open(path, 'w')
    try {
      await handle.write(wavHead('s24', mixdown.length, soundRate))
      for (let done = 0; done < mixdown.length; done += batch) {
        const count = Math.min(batch, mixdown.length - done)
        await mixdown.next(out, count)
        await handle.write(wavSamples('s24', out.left, out.right, count))
      }
    } finally {
      await handle.close()
    }
    return mixdown.length
  }

  /** Level of a clip's own sound on its frames. */
  async levelsOf(media: Media): Promise<Float32Array> {
    await this.decode(media)
    const gathered = new FrameLevels(await this.clips.timesOf(media))
    const [sound, out] = [this.soundOf(media), stereo(batch)]
    for (let at = 0; at < sound.length; at += batch) {
      const count = Math.min(batch, sound.length - at)
      sound.read(at, count, out.left, out.right)
      for (const side of [out.left, out.right]) gathered.add(side.subarray(0, count), at / soundRate, soundRate)
    }
    return gathered.levels()
  }

  /** Level of a sound of a shot, or of all of them together, on its frames. */
  async mixLevels(id: string, of: string): Promise<Float32Array | null> {
    const [stretch] = stretchesOf(this.records, id, null)
    if (!stretch) return null
    const { shot, media } = stretch
    const all = of === wholeMix
    const lanes = await this.lanes([stretch], [0], all ? undefined : new Set([of]))
    return levelsOfLanes(lanes, shot, clockOf(shot, media, await this.clips.timesOf(media)), all, isThere)
  }

  /** The lanes of some stretches, once their files are decoded. `alone`: the only sound that is heard. */
  private async lanes(
    stretches: readonly Stretch[],
    starts: readonly number[],
    alone?: ReadonlySet<string>,
  ): Promise<Lane[]> {
    const next = joinedShot(this.records, stretches.at(-1)!.shot)
    const after = next && this.records.get('media', next.shot.media)
    const times = new Map<string, number[]>()
    for (const { media } of stretches) times.set(media.id, await this.clips.timesOf(media))
    if (after) times.set(after.id, await this.clips.timesOf(after).catch(() => []))
    const heard = heardShots(this.records, stretches, starts, ({ id }) => times.get(id) ?? [])
    const asked = new Set<Media>()
    const recordingOf = (media: Media) => (asked.add(media), this.soundOf(media))
    const lanes = () => heard.flatMap((one) => lanesOf(this.records, one, { recordingOf, ...(alone ? { alone } : {}) }))
    // First to learn which files they are read from, then as long as these are.
    lanes()
    for (const media of asked) await this.decode(media)
    return lanes()
  }

  private soundOf(media: Media): DecodedSound {
    let sound = this.sounds.get(media.hash)
    if (!sound) this.sounds.set(media.hash, (sound = new DecodedSound()))
    return sound
  }

  private async decode(media: Media): Promise<void> {
    const sound = this.soundOf(media)
    if (sound.length) return
    try {
      const { file } = await this.clips.fileOf(media)
      await sound.open(this.clips.converter, file, join(this.folder, `${media.hash}.f32`))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      this.troubles.set(media.id, `${media.name} is not in it: ${error.message}`)
    }
  }
}
