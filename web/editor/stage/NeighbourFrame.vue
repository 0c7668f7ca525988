<script setup lang="ts">
import { computed, useTemplateRef, watch } from 'vue'
import { boundsOf, intersect, isEmpty } from '#core/geometry/rect.ts'
import { contoursOf } from '#core/pixels/filters/contour.ts'
import type { CellState } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { attend } from '../../ui/troubles.ts'
import { castColour } from '../castColours.ts'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'
import { useProject } from '../../project/project.ts'
import { useSelection } from '../selection.ts'
import { kindOf, useTracing } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import { pathData, ringsData } from './drawing.ts'

/** A frame in the strip: a section of its picture about the chosen shape, with that over it. A press goes there. */
const props = defineProps<{
  /** May lie beyond the shot: then there is nothing. */
  frame: number
  /** CSS pixels of the picture. */
  width: number
  height: number
  /** Plate pixels that are seen. */
  section: { width: number; height: number }
}>()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const tracing = useTracing()
const viewing = useViewing()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')

const there = computed(() => props.frame >= 0 && props.frame < opened.length)
const shape = computed(() => (there.value && selected.part ? opened.shape(selected.part, props.frame) : null))
const raster = computed(() => (there.value && selected.part ? tracing.matte(selected.part, props.frame) : null))
/** Left and top of the section in the plate. */
const from = computed(() => {
  const { width, height } = opened.media ?? { width: 0, height: 0 }
  const all = raster.value ?? (shape.value && boundsOf(shape.value))
  // What lies beyond the picture shows nothing.
  const box = all && intersect(all, { x: 0, y: 0, width, height })
  const [x, y] = box && !isEmpty(box) ? [box.x + box.width / 2, box.y + box.height / 2] : [width / 2, height / 2]
  return { x: x - props.section.width / 2, y: y - props.section.height / 2 }
})
const drawn = computed(() => {
  const { part } = selected
  if (!part) return ''
  if (raster.value) return ringsData(contoursOf(raster.value))
  if (!shape.value || kindOf(part).pixels) return ''
  return pathData(kindOf(part).drawn?.(shape.value) ?? kindOf(part).path(shape.value, part.settings))
})
const colour = computed(() => castColour(project.get('member', selected.part?.member ?? '')?.colour ?? 0))
const state = computed(() => (selected.part && there.value ? opened.cell(selected.part, props.frame) : 'none'))
const says: Record<CellState, string> = {
  key: 'key',
  followed: 'followed',
  between: 'in-between',
  held: 'held',
  away: 'away',
  none: '',
}

/** Pictures of other frames come in all the time: only another one of this frame is drawn. */
const picture = computed(() => {
  void [opened.arrived, viewing.layer]
  return there.value ? opened.pictures.pictureOf(props.frame) : null
})
watch(
  [picture, from, () => props.section, () => props.width, canvas],
  ([picture, , , , target]) => {
    if (!target) return
    const ratio = window.devicePixelRatio || 1
    const [w, h] = [Math.round(props.width * ratio), Math.round(props.height * ratio)]
    if (!picture || w < 1 || h < 1) return
    const k = picture.width / opened.media!.width
    const { x, y } = from.value
    const { width, height } = props.section
    const cut = createImageBitmap(
      new ImageData(picture.pixels, picture.width, picture.height),
      ...([x * k, y * k, width * k, height * k].map(Math.round) as [number, number, number, number]),
      { resizeWidth: w, resizeHeight: h },
    )
    const put = cut.then((bitmap) => {
      target.width = w
      target.height = h
      target.getContext('2d')!.drawImage(bitmap, 0, 0)
      target.dataset.frame = String(props.frame)
      bitmap.close()
    })
    attend(put, say`show neighbouring frames`)
  },
  { immediate: true, flush: 'post' },
)
</script>

<template>
  <button
    v-if="there"
    type="button"
    class="group flex shrink-0 flex-col items-center px-0.5 pt-0.5"
    :aria-label="say`Frame ${frame}${says[state] ? `, ${says[state]}` : ''}`"
    :aria-current="frame === playback.frame"
    @click="playback.go(frame)"
  >
    <span
      class="relative block overflow-hidden rounded-[4px] border-2"
      :class="frame === playback.frame ? 'border-wisp' : 'border-transparent group-hover:border-third'"
      :style="{ width: `${width}px`, height: `${height}px` }"
    >
      <canvas ref="canvas" class="absolute inset-0 size-full" aria-hidden="true" />
      <svg
        v-if="drawn"
        class="absolute inset-0 size-full"
        :viewBox="`${from.x} ${from.y} ${section.width} ${section.height}`"
        fill="none"
        aria-hidden="true"
      >
        <path :d="drawn" stroke="#000" stroke-opacity="0.55" stroke-width="3" vector-effect="non-scaling-stroke" />
        <path
          :d="drawn"
          :stroke="colour"
          stroke-width="1.2"
          :stroke-dasharray="state === 'key' || state === 'followed' ? undefined : '4 3'"
          vector-effect="non-scaling-stroke"
        />
      </svg>
    </span>
    <span class="numbers text-s leading-[16px] text-second"
      >{{ frame }}<template v-if="says[state]"> · {{ says[state] }}</template></span
    >
  </button>
  <span v-else class="shrink-0 px-0.5" :style="{ width: `${width + 4}px` }" aria-hidden="true" />
</template>
