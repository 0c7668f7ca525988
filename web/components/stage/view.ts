import type { InjectionKey, Ref } from 'vue'
import type { Similarity } from '#core/geometry/similarity.ts'

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
export const stageKey: InjectionKey<StageSpace> = Symbol('stage')
