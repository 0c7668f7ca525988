<script setup lang="ts">
import { computed, inject } from 'vue'
import { moved } from '#core/geometry/similarity.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../openShot.ts'
import { useViewing } from '../viewing.ts'
import { stageKey } from './view.ts'

/** The line between before (left) and after, dragged across the picture or moved with the arrow keys. */
const opened = useOpenShot()
const viewing = useViewing()
const stage = inject(stageKey)!
const x = computed(() => moved(stage.toStage.value, [(viewing.wipe ?? 0) * (opened.media?.width ?? 0), 0])[0]!)
function move(event: PointerEvent): void {
  if (!(event.buttons & 1) || !opened.media) return
  viewing.wipe = Math.min(1, Math.max(0, stage.toPlate(event).x / opened.media.width))
}
function step(event: KeyboardEvent): void {
  const way = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0
  if (!way) return
  event.preventDefault()
  event.stopPropagation()
  viewing.wipe = Math.min(1, Math.max(0, (viewing.wipe ?? 0) + way * (event.shiftKey ? 0.1 : 0.01)))
}
</script>

<template>
  <div
    v-if="viewing.wipe !== null"
    class="absolute inset-y-0 -ml-3 flex w-6 cursor-ew-resize touch-none justify-center"
    :style="{ left: `${x}px` }"
    role="slider"
    tabindex="0"
    :aria-label="say`Line between before and after`"
    :aria-valuenow="Math.round(viewing.wipe * 100)"
    @pointerdown="($event.currentTarget as HTMLElement).setPointerCapture($event.pointerId)"
    @pointermove="move"
    @keydown="step"
  >
    <span class="h-full w-px bg-text shadow-[0_0_0_1px_rgb(0_0_0/0.5)]" />
    <span class="absolute bottom-3 left-1/2 flex -translate-x-1/2 gap-6 text-s text-text [text-shadow:0_1px_2px_#000]">
      <span>{{ say`before` }}</span><span>{{ say`after` }}</span>
    </span>
  </div>
</template>
