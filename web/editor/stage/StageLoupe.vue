<script setup lang="ts">
import { computed, inject, useTemplateRef, watch } from 'vue'
import { moved } from '#core/geometry/similarity.ts'
import { say } from '#core/say.ts'
import { attend } from '../../ui/troubles.ts'
import { useOpenShot } from '../openShot.ts'
import { useViewing } from '../viewing.ts'
import { stageKey } from './view.ts'

/** The picture under the pointer, pixel by pixel; it keeps out of the way of the hand. */
const props = defineProps<{ at: { x: number; y: number }; width: number; height: number }>()
const opened = useOpenShot()
const viewing = useViewing()
const { toStage } = inject(stageKey)!
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
/** Side of the loupe in CSS pixels, and of a picture's pixel in it. */
const side = 132
const zoom = 8

watch(
  [() => props.at, () => opened.arrived, () => viewing.seen, canvas],
  () => {
    const shown = opened.pictures.shown()?.picture
    const target = canvas.value?.getContext('2d')
    if (!shown || !target) return
    const pixel = zoom * Math.max(1, shown.reduce / 2)
    const [cx, cy] = [props.at.x / shown.reduce, props.at.y / shown.reduce]
    const reach = side / 2 / pixel
    const [left, top] = [Math.floor(cx - reach), Math.floor(cy - reach)]
    const count = Math.ceil(2 * reach) + 2
    const part = new ImageData(count, count)
    for (let y = 0; y < count; y++)
      for (let x = 0; x < count; x++) {
        const [px, py] = [left + x, top + y]
        if (px < 0 || py < 0 || px >= shown.width || py >= shown.height) continue
        const from = 4 * (py * shown.width + px)
        for (let c = 0; c < 4; c++) part.data[4 * (y * count + x) + c] = shown.pixels[from + c]!
      }
    const drawn = createImageBitmap(part).then((bitmap) => {
      target.imageSmoothingEnabled = false
      target.fillStyle = '#131313'
      target.fillRect(0, 0, side, side)
      target.drawImage(
        bitmap,
        (left - cx) * pixel + side / 2,
        (top - cy) * pixel + side / 2,
        count * pixel,
        count * pixel,
      )
      bitmap.close()
    })
    attend(drawn, say`magnify the picture`)
  },
  { immediate: true, flush: 'post' },
)
const corner = computed(() => {
  const [x, y] = moved(toStage.value, [props.at.x, props.at.y]) as [number, number]
  const right = x < props.width - side - 40
  return { left: right ? `${props.width - side - 12}px` : '60px', top: y < side + 40 && !right ? `${side}px` : '12px' }
})
</script>

<template>
  <div
    class="pointer-events-none absolute overflow-hidden rounded-full border-2 border-[#4a4a4a]"
    :style="{ ...corner, width: `${side}px`, height: `${side}px` }"
    data-testid="loupe"
    aria-hidden="true"
  >
    <canvas ref="canvas" :width="side" :height="side" />
    <svg class="absolute inset-0 size-full" fill="none">
      <path
        :d="`M${side / 2 - 14} ${side / 2}h28M${side / 2} ${side / 2 - 14}v28`"
        stroke="#000"
        stroke-opacity="0.6"
        stroke-width="3"
      />
      <path :d="`M${side / 2 - 14} ${side / 2}h28M${side / 2} ${side / 2 - 14}v28`" stroke="#fff" stroke-width="1" />
    </svg>
  </div>
</template>
