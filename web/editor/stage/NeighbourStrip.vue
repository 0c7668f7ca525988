<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { boundsOf, intersect } from '#core/geometry/rect.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useSelection } from '../selection.ts'
import NeighbourFrame from './NeighbourFrame.vue'

/** The frames around the playhead beside each other, about what is chosen: what slips from one to the next is seen at a glance. */
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const strip = useTemplateRef<HTMLElement>('strip')
const { width } = useElementSize(strip)

/** CSS pixels of a frame in the strip. */
const least = 128
const height = 84
const count = computed(() => {
  const fits = Math.max(1, Math.floor(width.value / least))
  return Math.min(11, fits - (fits % 2 ? 0 : 1))
})
const frames = computed(() => Array.from({ length: count.value }, (_, i) => playback.frame + i - (count.value - 1) / 2))
const each = computed(() => Math.max(least, width.value / count.value) - 4)

/** What is seen of every frame, in plate pixels: twice the chosen shape at the playhead, else the whole picture. */
const section = computed(() => {
  const { part } = selected
  const { media } = opened
  if (!media) return { width: 1, height: 1 }
  const shape = part && nearestShape()
  if (!shape) return { width: media.width, height: media.height }
  const bounds = intersect(boundsOf(shape), { x: 0, y: 0, width: media.width, height: media.height })
  const ratio = each.value / height
  const tall = Math.max(60, 1.4 * bounds.height, (1.4 * bounds.width) / ratio)
  return { width: tall * ratio, height: tall }
})

/** The chosen shape at the playhead, else on the nearest frame that is shown. */
function nearestShape(): readonly number[] | null {
  const { part } = selected
  const near = [...frames.value].sort((a, b) => Math.abs(a - playback.frame) - Math.abs(b - playback.frame))
  for (const frame of near) {
    const shape = part && opened.shape(part, frame)
    if (shape) return shape
  }
  return null
}
</script>

<template>
  <div
    ref="strip"
    class="flex h-[106px] shrink-0 items-stretch justify-center overflow-hidden border-t bg-ground"
    role="group"
    :aria-label="say`Neighbouring frames`"
  >
    <NeighbourFrame
      v-for="frame in frames"
      :key="frame"
      :frame="frame"
      :width="each"
      :height="height"
      :section="section"
    />
  </div>
</template>
