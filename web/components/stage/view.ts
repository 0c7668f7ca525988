import type { InjectionKey, Ref } from 'vue'

/** How the plate lies on the stage: screen = plate * k + (x, y), in CSS pixels of the stage. */
export interface StageView {
  k: number
  x: number
  y: number
}
export interface StageSpace {
  view: Ref<StageView>
  /** A pointer event's place in plate pixels. */
  toPlate(event: { clientX: number; clientY: number }): { x: number; y: number }
}
export const stageKey: InjectionKey<StageSpace> = Symbol('stage')
