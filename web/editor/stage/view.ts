import type { InjectionKey, Ref } from 'vue'
import type { Similarity } from '#core/geometry/similarity.ts'
import { say } from '#core/say.ts'
import type { Quality } from '../viewing.ts'

/** How the stage is zoomed and panned: screen = picture * k + (x, y), in CSS pixels of the stage. */
export interface StageView {
  k: number
  x: number
  y: number
}
export interface StageSpace {
  view: Ref<StageView>
  /** Plate pixels to CSS pixels of the stage: zoom and pan, over what holds a part steady. */
  toStage: Ref<Similarity>
  /** A pointer event's place in plate pixels. */
  toPlate(event: { clientX: number; clientY: number }): { x: number; y: number }
}
/** Sizes at which pictures are computed. */
export const qualities: { value: Quality; label: string }[] = [
  { value: 'hand', label: say`full at rest` },
  { value: 1, label: say`full size` },
  { value: 2, label: say`half size` },
  { value: 4, label: say`quarter size` },
]
export const stageKey: InjectionKey<StageSpace> = Symbol('stage')
