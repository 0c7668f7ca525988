import * as Comlink from 'comlink'
import { type MatteReading, matteOfPicture } from '#core/incoming/matte.ts'
import { carryPainted, type CarryResult, type PaintedFrame } from '#core/painting/carry.ts'
import { outlined } from '#core/painting/outlined.ts'
import { paintedFrame, paintSettings, type PaintTask } from '#core/painting/paint.ts'
import { type Raster, rasterFrom } from '#core/pixels/buffers/raster.ts'
import type { Yuv } from '#core/pixels/buffers/yuv.ts'
import { Records } from '#core/records/records.ts'
import { type AnyRecord, type Key, keyId, matteElsewhere, type Part } from '#core/records/types.ts'
import { makePaintedKey } from '#core/shapes/make.ts'
import { isHandKey } from '#core/shapes/track.ts'
import { type GetFrame, KeptPictures } from '../frames/keptPictures.ts'

/** A painted part within its records. */
export interface PaintOrder {
  records: AnyRecord[]
  part: string
  /** Frames of the shot. */
  length: number
  /** Frames whose mattes come from a detector: they are carried from, and judged by what is carried there. */
  seen?: number[]
}

/** Keys that a run made, where it ended before its time, and where nothing of the part was in the picture. */
export interface Carried extends Pick<CarryResult, 'endings' | 'aways'> {
  keys: Key[]
}

/** How a picture is a matte: what of it, and how large the plate is that it lies on. */
type MatteHow = [reading: MatteReading, plate: { width: number; height: number }]

class Painter {
  private readonly pictures = new KeptPictures()
  private wanted = true

  /** Reads what tells the moving from the still, so that strokes are answered at once. */
  async prepare(frame: number, length: number, fetch: GetFrame): Promise<void> {
    if (length > 1) await this.pictures.backdrops(length, fetch).wide(frame)
  }

  /** The matte of a frame by its strokes; null where nothing is wanted of it. */
  async answer(order: PaintOrder, frame: number, before: Raster | null, fetch: GetFrame): Promise<Raster | null> {
    return paintedFrame(this.task(order, fetch), frame, before)
  }

  /** Carries the matte over frames; `found` is told of each as it is there. What is kept comes back packed, as keys. */
  async carry(
    order: PaintOrder,
    from: number,
    to: number,
    fetch: GetFrame,
    found: (one: PaintedFrame) => void,
  ): Promise<Carried> {
    this.wanted = true
    const { frames, endings, aways } = await carryPainted(this.task(order, fetch), from, to, found, () => !this.wanted)
    const keys = frames.flatMap(({ frame, raster, confidence }) =>
      raster ? [makePaintedKey(order.part, frame, raster, Math.max(0, Math.min(1, confidence)))] : [],
    )
    return { keys, endings, aways }
  }

  /** The key of a matte that comes in as a picture; null where nothing is in it. */
  taken(part: string, frame: number, yuv: Yuv, ...how: MatteHow): Key | null {
    const raster = matteOfPicture(yuv, ...how)
    return raster && makePaintedKey(part, frame, raster, null)
  }

  /** Ends the run under way; what it found until now comes back from it. */
  stop(): void {
    this.wanted = false
  }

  /** Points of an outline on every frame with a matte. */
  outline({ records: list, part }: PaintOrder, first: number, tolerance: number): Map<number, number[]> {
    return outlined(
      mattesOf(new Records(list), part, () => true),
      first,
      tolerance,
    )
  }

  private task({ records: list, part: id, length, seen = [] }: PaintOrder, fetch: GetFrame): PaintTask {
    const records = new Records(list)
    const { settings } = records.get('part', id) as Part
    return {
      settings: paintSettings(settings),
      strokes: records.childrenOf('stroke', id),
      hands: mattesOf(records, id, isHandKey),
      seen: new Map(
        [...mattesOf(records, id, ({ frame }) => seen.includes(frame))].map(([frame, raster]) => [
          frame,
          { raster, confidence: (records.get('key', keyId(id, frame)) as Key).followed ?? 1 },
        ]),
      ),
      picture: (at) => this.pictures.get(at, fetch),
      backdrop: (at) => (length < 2 ? Promise.resolve(null) : this.pictures.backdrops(length, fetch).wide(at)),
    }
  }
}

const mattesOf = (records: Records, part: string, which: (key: Key) => boolean): Map<number, Raster> =>
  new Map(
    records
      .childrenOf('key', part)
      .flatMap((key) =>
        key.matte && !matteElsewhere(key) && which(key) ? [[key.frame, rasterFrom(key.matte)] as const] : [],
      ),
  )

export type PaintWorker = Comlink.Remote<Painter>
Comlink.expose(new Painter())
