<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { select } from 'd3-selection'
import { type D3ZoomEvent, zoom, zoomIdentity } from 'd3-zoom'
import { computed, onMounted, provide, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { inverse, moved, type Similarity } from '#core/geometry/similarity.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../openShot.ts'
import { useSelection } from '../selection.ts'
import { useViewing } from '../viewing.ts'
import { waiting } from '../dropper.ts'
import ColourDropper from './ColourDropper.vue'
import GuideLine from './GuideLine.vue'
import { secondCanvas } from './secondWindow.ts'
import { stageKey, type StageView } from './view.ts'

/**
 * The picture: zoomed with the wheel at the pointer or with two fingers, panned with those, the middle button, the hand tool or Alt
 * and drag.
 * Whatever lies over it goes into the slot and reads the stage's view.
 */
const opened = useOpenShot()
const selected = useSelection()
const viewing = useViewing()
const stage = useTemplateRef<HTMLElement>('stage')
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const beside = useTemplateRef<HTMLCanvasElement>('beside')
const { width, height } = useElementSize(stage)
const view = shallowRef<StageView>({ k: 1, x: 0, y: 0 })
/** Whether the picture fits the stage and goes on fitting when that changes size. */
const fitted = ref(true)

const behaviour = zoom<HTMLElement, unknown>()
  .scaleExtent([0.05, 64])
  .filter(
    (event: MouseEvent | TouchEvent) =>
      event.type === 'wheel' ||
      // Two fingers; one alone is the hand that traces, unless the picture is moved.
      ('touches' in event && (event.touches.length > 1 || selected.tool === 'hand')) ||
      ('button' in event && (event.button === 1 || (event.button === 0 && (selected.tool === 'hand' || event.altKey)))),
  )
  .on('zoom', ({ transform, sourceEvent }: D3ZoomEvent<HTMLElement, unknown>) => {
    view.value = { k: transform.k, x: transform.x, y: transform.y }
    if (sourceEvent) fitted.value = false
  })

function fit(): void {
  const { media } = opened
  if (!stage.value || !media || width.value < 2) return
  const margin = viewing.quiet ? 0 : 8
  const k = Math.min((width.value - 2 * margin) / media.width, (height.value - 2 * margin) / media.height)
  fitted.value = true
  const at = zoomIdentity.translate((width.value - media.width * k) / 2, (height.value - media.height * k) / 2).scale(k)
  behaviour.transform(select(stage.value), at)
}
function zoomTo(k: number): void {
  if (!stage.value) return
  fitted.value = false
  behaviour.scaleTo(select(stage.value), k)
}
watch(
  [view, secondCanvas],
  ([{ k }, second]) => {
    // A second window may fill a monitor: there the picture is shown as it is.
    viewing.screenPixel = second ? 1 : 1 / (k * (window.devicePixelRatio || 1))
  },
  { immediate: true },
)
defineExpose({ fit, zoomTo, view, fitted })

const toStage = computed<Similarity>(() => {
  const { k, x, y } = view.value
  const { ar, ai, br, bi } = viewing.steadying
  return { ar: k * ar, ai: k * ai, br: k * br + x, bi: k * bi + y }
})
const toPlate = (event: { clientX: number; clientY: number }) => {
  const box = stage.value!.getBoundingClientRect()
  const [x, y] = moved(inverse(toStage.value), [event.clientX - box.left, event.clientY - box.top])
  return { x: x!, y: y! }
}
provide(stageKey, { view, toStage, toPlate })

onMounted(() => {
  select(stage.value!).call(behaviour).on('dblclick.zoom', null)
  fit()
})
watch([width, height, () => opened.media?.hash], () => fitted.value && fit())

/** Side of a picture's pixel on the plate: finer pictures come in once the hand rests, and lie where the coarser ones did. */
const reduced = ref(1)

function put(target: HTMLCanvasElement, pixels: Uint8ClampedArray<ArrayBuffer>, w: number, h: number): void {
  if (target.width !== w || target.height !== h) {
    target.width = w
    target.height = h
  }
  target.getContext('2d', { alpha: false })!.putImageData(new ImageData(pixels, w, h), 0, 0)
}
// The canvas holds the picture as it is; the page enlarges it.
watch(
  [() => opened.arrived, () => viewing.seen, canvas, beside, secondCanvas],
  () => {
    const shown = opened.pictures.shown()
    const target = canvas.value
    if (!shown || !target) return
    const { pixels, plate, width: w, height: h, reduce } = shown.picture
    reduced.value = reduce
    put(target, pixels, w, h)
    if (beside.value && plate) put(beside.value, plate, w, h)
    const second = secondCanvas()
    if (second) {
      put(second, pixels, w, h)
      second.dataset.frame = String(shown.frame)
      second.ariaLabel = say`Frame ${shown.frame}`
    }
    target.dataset.frame = String(shown.frame)
    target.dataset.fresh = String(shown.fresh)
    target.dataset.layer = viewing.layer
  },
  { flush: 'post' },
)
const placed = computed(() => {
  const { ar, ai, br, bi } = toStage.value
  const scale = Math.hypot(ar, ai)
  const turn = ai ? ` rotate(${Math.atan2(ai, ar)}rad)` : ''
  // Of the view alone: effects and outputs are made from the picture as it is.
  const { brightness, contrast } = viewing
  // A coarser picture is as large as a finer one.
  const { width: plateWidth = 0, height: plateHeight = 0 } = opened.media ?? {}
  return {
    width: `${plateWidth}px`,
    height: `${plateHeight}px`,
    transform: `translate(${br}px, ${bi}px)${turn} scale(${scale})`,
    imageRendering: (scale >= 1.5 && reduced.value === 1 ? 'pixelated' : 'auto') as 'pixelated' | 'auto',
    filter: brightness === 1 && contrast === 1 ? undefined : `brightness(${brightness}) contrast(${contrast})`,
  }
})
</script>

<template>
  <div
    ref="stage"
    class="relative min-h-0 min-w-0 flex-1 touch-none overflow-hidden bg-ground"
    :class="{ 'cursor-grab': selected.tool === 'hand' }"
    data-testid="stage"
  >
    <canvas
      ref="canvas"
      class="absolute top-0 left-0 origin-top-left"
      :style="placed"
      role="img"
      :aria-label="say`Frame ${viewing.seen}`"
    />
    <canvas
      v-if="viewing.wipe !== null"
      ref="beside"
      class="absolute top-0 left-0 origin-top-left"
      :style="{ ...placed, clipPath: `inset(0 ${100 * (1 - viewing.wipe)}% 0 0)` }"
      aria-hidden="true"
    />
    <slot :width="width" :height="height" />
    <ColourDropper v-if="waiting" />
    <div v-if="!viewing.quiet" class="pointer-events-none absolute inset-x-3 bottom-12 z-10 flex justify-center">
      <GuideLine class="pointer-events-auto" />
    </div>
    <div v-if="opened.trouble" class="absolute inset-0 flex items-center justify-center bg-ground p-8">
      <div class="max-w-md text-center">
        <p class="text-l text-ember" role="alert">{{ opened.trouble }}</p>
        <button class="button mt-4" @click="opened.open(opened.shotId)">{{ say`Try again` }}</button>
      </div>
    </div>
  </div>
</template>
