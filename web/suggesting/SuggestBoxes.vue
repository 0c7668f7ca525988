<script setup lang="ts">
import { computed, inject } from 'vue'
import { moved } from '#core/geometry/similarity.ts'
import type { Detected } from '#core/suggesting/detected.ts'
import { stageKey } from '../editor/stage/view.ts'
import { useSuggesting } from './suggesting.ts'

/** Boxes around what detectors found on this frame; a click casts one of them. */
const suggesting = useSuggesting()
const { toStage } = inject(stageKey)!

const names = { people: 'Performer', faces: 'Face', hands: 'Hand' }
const boxes = computed(() =>
  suggesting.shown.map((one: Detected, index) => {
    const [left, top, right, bottom] = one.box
    const p = moved(toStage.value, [left, top, right, top, right, bottom, left, bottom])
    const xs = [0, 2, 4, 6].map((i) => p[i]!)
    const ys = [1, 3, 5, 7].map((i) => p[i]!)
    const [x, y] = [Math.min(...xs), Math.min(...ys)]
    const label = `${names[one.what]} ${Math.round(100 * one.confidence)} %`
    return { one, index, x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y, label }
  }),
)
</script>

<template>
  <div v-if="boxes.length" class="pointer-events-none absolute inset-0 overflow-hidden">
    <button
      v-for="box in boxes"
      :key="`${box.label} ${box.index}`"
      type="button"
      class="pointer-events-auto absolute rounded-[5px] border border-dashed border-text/80 text-left hover:border-solid hover:border-wisp hover:bg-wisp/10 disabled:opacity-50"
      :style="{ left: `${box.x}px`, top: `${box.y}px`, width: `${box.width}px`, height: `${box.height}px` }"
      :disabled="suggesting.busy !== null"
      :aria-label="`Cast ${box.label}`"
      @click="suggesting.take(box.one)"
    >
      <span class="absolute -top-6 left-0 rounded-[5px] bg-panel/90 px-1.5 py-0.5 text-s whitespace-nowrap">{{
        box.label
      }}</span>
    </button>
  </div>
</template>
