<script setup lang="ts">
import { computed, inject, shallowRef } from 'vue'
import { moved } from '#core/geometry/similarity.ts'
import type { Box, Detected } from '#core/suggesting/detected.ts'
import { say } from '#core/say.ts'
import { stageKey } from '../editor/stage/view.ts'
import { attend } from '../ui/troubles.ts'
import { useSuggesting } from './suggesting.ts'

/** Boxes around what detectors found on this frame; a click casts one of them. And the box that they look in. */
const suggesting = useSuggesting()
const { toStage, toPlate } = inject(stageKey)!

const names = { people: say`Performer`, faces: say`Face`, hands: say`Hand` }
const boxes = computed(() =>
  suggesting.shown.map((one: Detected, index) => {
    const label = `${names[one.what]} ${Math.round(100 * one.confidence)} %`
    return { one, index, label, place: placeOf(one.box) }
  }),
)

/** Two opposite corners of the box that is being drawn, in plate pixels. */
const drawn = shallowRef<{ from: { x: number; y: number }; to: { x: number; y: number } } | null>(null)
const area = computed(() => {
  if (!drawn.value) return suggesting.area && placeOf(suggesting.area)
  const { from, to } = drawn.value
  return placeOf([from.x, from.y, to.x, to.y])
})
function begin(event: PointerEvent): void {
  if (event.button !== 0) return
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  drawn.value = { from: toPlate(event), to: toPlate(event) }
}
function drag(event: PointerEvent): void {
  if (drawn.value) drawn.value = { ...drawn.value, to: toPlate(event) }
}
function end(): void {
  if (!drawn.value) return
  const { from, to } = drawn.value
  drawn.value = null
  attend(suggesting.lookIn(from, to), say`look for shapes`)
}

/** Where a box of the plate lies on the stage, as a style. */
function placeOf([left, top, right, bottom]: Box): { left: string; top: string; width: string; height: string } {
  const p = moved(toStage.value, [left, top, right, top, right, bottom, left, bottom])
  const xs = [0, 2, 4, 6].map((i) => p[i]!)
  const ys = [1, 3, 5, 7].map((i) => p[i]!)
  const [x, y] = [Math.min(...xs), Math.min(...ys)]
  const [width, height] = [Math.max(...xs) - x, Math.max(...ys) - y]
  return { left: `${x}px`, top: `${y}px`, width: `${width}px`, height: `${height}px` }
}
</script>

<template>
  <div
    v-if="suggesting.drawing"
    class="absolute inset-0 cursor-crosshair touch-none"
    data-testid="draw-box"
    @pointerdown.stop="begin"
    @pointermove="drag"
    @pointerup="end"
    @pointercancel="drawn = null"
  />
  <div v-if="area" class="pointer-events-none absolute inset-0 overflow-hidden">
    <div class="absolute border border-dotted border-text/70" :style="area" />
  </div>
  <div v-if="boxes.length" class="pointer-events-none absolute inset-0 overflow-hidden">
    <button
      v-for="box in boxes"
      :key="`${box.label} ${box.index}`"
      type="button"
      class="pointer-events-auto absolute rounded-[5px] border border-dashed border-text/80 text-left hover:border-solid hover:border-wisp hover:bg-wisp/10 disabled:opacity-50"
      :style="box.place"
      :disabled="suggesting.busy !== null"
      :aria-label="say`Cast ${box.label}`"
      @click="suggesting.take(box.one)"
    >
      <span class="absolute -top-6 left-0 rounded-[5px] bg-panel/90 px-1.5 py-0.5 text-s whitespace-nowrap">{{
        box.label
      }}</span>
    </button>
  </div>
</template>
