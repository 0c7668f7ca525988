import type { Reduce } from '#core/render/painter.ts'
import type { DrawnPicture, ViewLayer } from './render.worker.ts'

export type ShownPicture = Pick<DrawnPicture, 'pixels' | 'plate' | 'width' | 'height'>
/** `reduce`: pixels of the plate in one of the picture’s, along a side. */
export interface StagePicture extends ShownPicture {
  reduce: Reduce
}
export interface Kept extends StagePicture {
  /** Count of the changes to its frame when it was made: an older one is stale. */
  epoch: number
}

export const bytesOf = ({ pixels, plate }: ShownPicture): number => pixels.byteLength + (plate?.byteLength ?? 0)

const nothing = (): Record<ViewLayer, Map<number, Kept>> => ({
  plate: new Map(),
  result: new Map(),
  matte: new Map(),
  cutout: new Map(),
  clean: new Map(),
  difference: new Map(),
})

/** Finished pictures of a shot, by what is looked at and by their frame: one of each. */
export class PictureStore {
  /** Bytes of all of them. */
  bytes = 0
  private kept = nothing()

  get(layer: ViewLayer, frame: number): Kept | undefined {
    return this.kept[layer].get(frame)
  }
  /** Frames that there is a picture of. */
  frames(layer: ViewLayer): Iterable<number> {
    return this.kept[layer].keys()
  }
  /** Any one of a layer. */
  some(layer: ViewLayer): Kept | undefined {
    return this.kept[layer].values().next().value
  }

  /** Takes a picture in, unless there is a finer one that is as new, or a newer one. */
  keep(layer: ViewLayer, frame: number, picture: Kept): void {
    const before = this.get(layer, frame)
    const outdone =
      before && (before.epoch > picture.epoch || (before.epoch === picture.epoch && before.reduce < picture.reduce))
    if (!outdone) this.put(layer, frame, picture)
  }
  put(layer: ViewLayer, frame: number, picture: Kept): void {
    this.drop(layer, frame)
    this.bytes += bytesOf(picture)
    this.kept[layer].set(frame, picture)
  }

  clear(): void {
    this.kept = nothing()
    this.bytes = 0
  }
  /** Lets all of some layers go. */
  forget(layers: readonly ViewLayer[]): void {
    for (const layer of layers) for (const frame of this.kept[layer].keys()) this.drop(layer, frame)
  }
  /** Lets all go that are finer. */
  dropFiner(reduce: Reduce): void {
    for (const layer of Object.keys(this.kept) as ViewLayer[])
      for (const [frame, picture] of this.kept[layer]) if (picture.reduce < reduce) this.drop(layer, frame)
  }

  /** Lets go what is wanted last until no more than `most` bytes are left; who looks at a frame of a shot of so many keeps that one. */
  fit(most: number, seen: { layer: ViewLayer; frame: number }, length: number): void {
    while (this.bytes > most) {
      const victim = this.farthest(seen, length)
      if (!victim) break
      this.drop(victim.layer, victim.frame)
    }
  }

  /** The picture that will be wanted last: of another layer, then behind the playhead. */
  private farthest({ frame, layer }: { layer: ViewLayer; frame: number }, length: number) {
    const others = (Object.keys(this.kept) as ViewLayer[]).filter((one) => one !== layer)
    for (const one of [...others, layer]) {
      let far: number | null = null
      const distance = (f: number) => (f - frame + length) % length
      for (const f of this.frames(one)) if (f !== frame && (far === null || distance(f) > distance(far))) far = f
      if (far !== null) return { layer: one, frame: far }
    }
    return null
  }

  private drop(layer: ViewLayer, frame: number): void {
    const before = this.get(layer, frame)
    if (!before) return
    this.bytes -= bytesOf(before)
    this.kept[layer].delete(frame)
  }
}
