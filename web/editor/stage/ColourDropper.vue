<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { inject, onBeforeUnmount, ref } from 'vue'
import { meanColour } from '#core/pixels/colour/hex.ts'
import { say } from '#core/say.ts'
import { leaveDropper } from '../dropper.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { stageKey } from './view.ts'

/** Over the picture while a colour is taken from the clip: a mean of a few pixels, of many with Shift. */
const { toPlate } = inject(stageKey)!
const opened = useOpenShot()
const playback = usePlayback()
/** Pixels on each side of the pointer that count. */
const reach = { fine: 2, wide: 12 }
const under = ref<{ x: number; y: number; hex: string } | null>(null)

function colourAt(event: PointerEvent): string | null {
  const plate = opened.pictures.plateOf(playback.frame) ?? opened.pictures.shown()?.picture
  if (!plate) return null
  const { x, y } = toPlate(event)
  const r = plate.reduce
  return meanColour(plate, [x / r, y / r], Math.round((event.shiftKey ? reach.wide : reach.fine) / r))
}
function look(event: PointerEvent): void {
  const hex = colourAt(event)
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  under.value = hex ? { x: event.clientX - box.left, y: event.clientY - box.top, hex } : null
}
function take(event: PointerEvent): void {
  const hex = colourAt(event)
  if (hex) leaveDropper(hex)
}
useEventListener(
  window,
  'keydown',
  (event) => {
    if (event.key !== 'Escape') return
    event.stopPropagation()
    leaveDropper()
  },
  { capture: true },
)
onBeforeUnmount(() => leaveDropper())
</script>

<template>
  <div
    class="absolute inset-0 z-10 cursor-crosshair"
    data-testid="dropper"
    @pointermove="look"
    @pointerdown.stop.prevent="take"
    @pointerleave="under = null"
  >
    <div
      v-if="under"
      class="pointer-events-none absolute flex items-center gap-2 rounded-[7px] bg-panel/90 p-1.5"
      :style="{ left: `${under.x + 16}px`, top: `${under.y + 16}px` }"
    >
      <span class="size-8 rounded-[5px] border border-[#4a4a4a]" :style="{ background: under.hex }" />
      <span class="numbers text-s">{{ under.hex }}</span>
    </div>
    <div
      class="pointer-events-none absolute bottom-3 left-1/2 flex -translate-x-1/2 items-center gap-2 rounded-[9px] bg-panel/90 px-3 py-1.5 whitespace-nowrap"
      role="status"
    >
      {{ say`Click a colour in the picture` }} <kbd class="key">{{ say`Shift` }}</kbd>
      <span class="text-second">{{ say`of a larger area` }}</span> <kbd class="key">{{ say`Esc` }}</kbd>
      <span class="text-second">{{ say`leave it` }}</span>
    </div>
  </div>
</template>
