import * as Comlink from 'comlink'
import { pictureFile } from '#core/formats/pictureFile.ts'
import { Scratch } from '#core/pixels/buffers/scratch.ts'
import { Records } from '#core/records/records.ts'
import type { AnyRecord, Media, Plate } from '#core/records/types.ts'
import { framesShowing } from '#core/records/timing.ts'
import { sceneOf } from '#core/render/scene.ts'
import { hiddenOn } from '#core/render/surroundings.ts'
import { isTold } from '#core/shapes/riding.ts'
import { type CleanPlate, cleanPlate } from '#core/tracking/cleanPlate.ts'
import { bringFrame, type BroughtStroke } from '#core/painting/bringFrame.ts'
import { pixelsOfPng } from '#core/formats/png.ts'
import { type GetFrame, KeptPictures } from '../frames/keptPictures.ts'

/** A shot within its records. */
export interface PlateOrder {
  records: AnyRecord[]
  shot: string
  media: Pick<Media, 'matrix' | 'range' | 'width' | 'height'>
  /** Frames of its clip from which it is made, `to` exclusive. */
  from: number
  to: number
}

/** A clean plate as it is kept: its still as a PNG file. */
export interface MadePlate extends Omit<CleanPlate, 'picture'> {
  file: Uint8Array<ArrayBuffer>
}

class PlateMaker {
  private readonly pictures = new KeptPictures()
  private readonly scratch = new Scratch()
  private wanted = true

  /** The clean plate of a shot; null where it was stopped. `told` hears the share that is done. */
  async make(order: PlateOrder, fetch: GetFrame, told: (share: number) => void): Promise<MadePlate | null> {
    this.wanted = true
    const records = new Records(order.records)
    const scene = sceneOf(records, order.shot)!
    const { width, height } = order.media
    /** The frame of the shot that shows one of the clip. What none shows is not taken: nobody is traced there. */
    const shown = framesShowing(scene.shot)
    const frameOf = (at: number) => shown.get(order.from + at)
    const made = await cleanPlate({
      ...{ length: order.to - order.from, matrix: order.media.matrix, range: order.media.range },
      picture: (frame) => this.pictures.get(frame, fetch),
      hidden: (at) => hiddenOn(scene, frameOf(at)!, { width, height }, this.scratch),
      isTold: (at) => {
        const frame = frameOf(at)
        return frame !== undefined && scene.members.every((member) => isTold(records, member, frame))
      },
      told,
      stopped: () => !this.wanted,
    })
    if (!made) return null
    const { picture, ...rest } = made
    return { ...rest, file: pngOf(picture) }
  }

  /** The still of a clean plate with what another frame shows brought into it under a stroke. */
  async bring(
    plate: Plate,
    still: Uint8Array,
    stroke: BroughtStroke,
    fetch: GetFrame,
  ): Promise<Uint8Array<ArrayBuffer>> {
    const { rgba, width, height } = pixelsOfPng(still)
    const picture = { words: new Uint32Array(rgba.buffer, rgba.byteOffset, width * height), width, height }
    bringFrame(picture, plate, stroke, await fetch(stroke.source))
    return pngOf(picture)
  }

  stop(): void {
    this.wanted = false
  }
}

function pngOf(picture: CleanPlate['picture']): Uint8Array<ArrayBuffer> {
  const file = pictureFile(picture, 'png', { channels: 'rgba' }) as Uint8Array<ArrayBuffer>
  return Comlink.transfer(file, [file.buffer])
}

export type PlateWorker = Comlink.Remote<PlateMaker>
Comlink.expose(new PlateMaker())
