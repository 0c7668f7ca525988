import { coarseness, KeptReadings, mixName, readingsAsked } from '#core/motion/readings.ts'
import { lumaOf } from '#core/pixels/buffers/luma.ts'
import type { Records } from '#core/records/records.ts'
import type { Shot } from '#core/records/types.ts'
import { Refusal } from '#core/refusal.ts'
import { picturesNeeded } from '#core/render/frame.ts'
import { type OtherFrame, placeOf } from '#core/render/painter.ts'
import { type Scene, sceneOf } from '#core/render/scene.ts'
import type { ClipFiles } from './clips.ts'
import type { ProjectSound } from './projectSound.ts'

/** The shots of a project as scenes, with all that their frames are made from, in Node. */
export class ProjectScenes {
  private readonly records: Records
  private readonly clips: ClipFiles
  private readonly sound: ProjectSound
  private readonly readings = new KeptReadings()
  private readonly scenes = new Map<string, Scene | null>()
  /** Sentences about clips that are not in the picture, by their ids. */
  readonly troubles = new Map<string, string>()

  constructor(records: Records, clips: ClipFiles, sound: ProjectSound) {
    this.records = records
    this.clips = clips
    this.sound = sound
  }

  /** A shot, once what its drives ask for is read. Decoders of other shots are let go. */
  async of(shot: Shot): Promise<Scene | null> {
    const known = this.scenes.get(shot.id)
    if (known !== undefined) return known
    this.clips.closeOthers(new Set([shot.media]))
    await this.read(shot)
    const scene = sceneOf(this.records, shot.id, this.readings)
    this.scenes.set(shot.id, scene)
    return scene
  }

  /** The other frames that a frame's effects are made from. */
  async others(scene: Scene | null, shot: Shot, frame: number): Promise<OtherFrame[]> {
    const found = await Promise.all(
      (scene ? picturesNeeded(scene, frame) : []).map(async (need): Promise<OtherFrame | null> => {
        const place = placeOf(need, shot, this.records)
        const media = place && this.records.get('media', place.media)
        if (!place || !media) return null
        try {
          return { ...need, yuv: await (await this.clips.readerOf(media)).get(place.frame, place.between) }
        } catch (error) {
          if (place.own || !(error instanceof Refusal)) throw error
          this.troubles.set(media.id, `${media.name} is not in it: ${error.message}`)
          return null
        }
      }),
    )
    return found.filter((one) => one !== null)
  }

  /** Reads off pictures and sounds what drives of a shot ask for. */
  private async read(shot: Shot): Promise<void> {
    const asked = readingsAsked(this.records, shot.id)
    for (const id of asked.heard) {
      const media = this.records.get('media', id)
      if (media) this.readings.hear(id, await this.sound.levelsOf(media))
    }
    for (const { shot: of, of: sound } of asked.mixed) {
      const levels = await this.sound.mixLevels(of, sound)
      if (levels) this.readings.hear(mixName(of, sound), levels)
    }
    for (const { media: id, from, to } of asked.seen) {
      const media = this.records.get('media', id)
      if (!media) continue
      const reader = await this.clips.readerOf(media)
      const reduce = coarseness(media, to - from)
      for (let frame = from; frame < to; frame++) this.readings.see(id, frame, lumaOf(await reader.get(frame), reduce))
    }
  }
}
