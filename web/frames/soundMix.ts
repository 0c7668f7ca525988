import { Records } from '#core/records/records.ts'
import type { AnyRecord, Media, Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { soundKind } from '#core/sound/catalogue.ts'
import type { Lane, Recording } from '#core/sound/lane.ts'
import { type HeardShot, lanesOf } from '#core/soundtrack/lanes.ts'
import { soundsOf } from '#core/soundtrack/make.ts'
import { Mixdown } from '#core/soundtrack/mixdown.ts'
import { FileSound } from './recording.ts'

/** What is heard of a film, in a form that goes to a worker. `address` of the clips' files by their ids. */
export interface SoundOrder {
  shots: (Omit<HeardShot, 'shot' | 'media'> & { shot: string })[]
  addresses: Record<string, string>
}

/** The files that lanes are read from. A file that can not be had is silence, and says why. */
export class Recordings {
  private readonly open = new Map<string, { sound: FileSound; ready: Promise<void> }>()
  /** Ids of the clips that files are of. */
  private readonly names = new Map<FileSound, string>()
  /** A file that was heard has fallen silent. */
  onTrouble: () => void = () => {}
  /** Why files are silent, by the id of the clip. */
  readonly troubles = new Map<string, string>()

  /** The recording of a clip, which may still be opening. */
  of(media: Media, address: string): Recording {
    let known = this.open.get(media.hash)
    if (!known) {
      const sound = new FileSound()
      const ready = sound.open(address).catch((error: unknown) => {
        this.troubles.set(media.id, error instanceof Refusal ? error.message : say`Its sound can not be read.`)
      })
      this.open.set(media.hash, (known = { sound, ready }))
      this.names.set(sound, media.id)
    }
    return known.sound
  }

  /** Resolves when all files that were asked for are open. */
  async opened(): Promise<void> {
    await Promise.all([...this.open.values()].map(({ ready }) => ready))
  }

  /** Makes sure that what a mix needs can be read. */
  async load(needs: { take: Recording; from: number; to: number }[]): Promise<void> {
    for (const { take, from, to } of needs) {
      if (!(take instanceof FileSound) || !take.length || take.has(from, to)) continue
      try {
        await take.load(from, to)
      } catch (error) {
        console.error(error)
        // Damaged in the middle: it falls silent, all others go on.
        take.length = 0
        this.troubles.set(
          this.names.get(take)!,
          'Its sound is damaged and can not be read to its end. Bring it in again.',
        )
        this.onTrouble()
      }
    }
  }

  close(): void {
    for (const { sound } of this.open.values()) sound.close()
    this.open.clear()
    this.troubles.clear()
  }
}

/** The lanes of all that an order names, once their files are open. `alone`: ids of the only sounds that are heard. */
export async function lanesFor(
  records: Records,
  { shots, addresses }: SoundOrder,
  recordings: Recordings,
  alone?: ReadonlySet<string>,
): Promise<Lane[]> {
  const recordingOf = (media: Media) => recordings.of(media, addresses[media.id] ?? '')
  const heard = shots.flatMap((one): HeardShot[] => {
    const shot: Shot | undefined = records.get('shot', one.shot)
    const media = shot && records.get('media', shot.media)
    return shot && media ? [{ ...one, shot, media }] : []
  })
  const lanes = () => heard.flatMap((one) => lanesOf(records, one, { recordingOf, ...(alone ? { alone } : {}) }))
  // First to learn which files they are read from, then as long as these are.
  const first = lanes()
  if (!first.some((lane) => lane.takes.length)) return first
  await recordings.opened()
  return lanes()
}

/** All that is heard of a film, from second 0 for `seconds`. */
export interface MixOrder extends SoundOrder {
  records: AnyRecord[]
  seconds: number
}

/** A mix on its way into a file, with the files that it is read from. */
export interface SoundMix {
  mixdown: Mixdown
  /** Why files are silent, by the id of the clip. */
  troubles: ReadonlyMap<string, string>
  close(): void
}

/** The mix of an order; with the id of a sound that one alone, and nothing that limits it. */
export async function mixOf({ records: list, seconds, ...order }: MixOrder, only?: string): Promise<SoundMix> {
  const recordings = new Recordings()
  const lanes = await lanesFor(new Records(list), order, recordings, only ? new Set([only]) : undefined)
  const mixdown = new Mixdown(lanes, seconds, (needs) => recordings.load(needs), !only)
  return { mixdown, troubles: recordings.troubles, close: () => recordings.close() }
}

/** The sounds of an order that are on, with names for their files. */
export function laneNames({ records: list, shots }: MixOrder): { id: string; name: string }[] {
  const records = new Records(list)
  const taken = new Set<string>()
  return shots.flatMap(({ shot: id }) => {
    const shot = records.get('shot', id)
    if (!shot) return []
    return soundsOf(records, shot)
      .filter((sound) => sound.on)
      .map((sound) => {
        const clip = sound.kind === 'own' ? shot.media : sound.takes[0]
        const title = (clip && records.get('media', clip)?.name) || soundKind(sound.kind).title
        const whom = records.get('member', sound.target)?.name
        const plain = [shot.name, title.replace(/\.[^.]*$/, ''), sound.kind === 'own' ? '' : whom]
          .filter(Boolean)
          .join(' ')
          .replace(/[^\p{L}\p{N} -]+/gu, ' ')
          .trim()
        let name = plain
        for (let n = 2; taken.has(name); n++) name = `${plain} ${n}`
        taken.add(name)
        return { id: sound.id, name }
      })
  })
}
