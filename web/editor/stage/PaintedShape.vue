<script setup lang="ts">
import { computed } from 'vue'
import type { Part } from '#core/records/types.ts'
import { brush } from '../brush.ts'
import { useSelection } from '../selection.ts'
import { useTracing } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import { useStageDrawing } from './drawing.ts'

/** The chosen matte made of pixels, and the strokes of this frame while the brush is at hand. */
const props = defineProps<{
  /** None before the first stroke. */
  part: Part | null
  /** The stroke under the hand, in plate pixels. */
  stroke: { points: number[]; wanted: boolean; size: number } | null
  pointer: { x: number; y: number } | null
}>()
const selected = useSelection()
const viewing = useViewing()
const tracing = useTracing()
const { place, polyline, edgesOf, colourOf, scale, faint, tint } = useStageDrawing()

const colour = computed(() => (props.part ? colourOf(props.part) : ''))
const cuts = computed(() => props.part !== null && props.part.role !== 'add')
const edges = computed(() => props.part && edgesOf(props.part))
const strokes = computed(() => {
  const kept = props.part && selected.tool === 'painted' ? tracing.strokesAt(props.part, viewing.seen) : []
  const live = props.stroke ? [{ id: 'live', ...props.stroke }] : []
  return [...kept, ...live].map(({ id, wanted, size, points }) => ({
    ...{ id, wanted, width: Math.max(1.5, size * scale.value) },
    // A dot is a line from a place to itself.
    line: polyline(points.length > 2 ? points : [...points, ...points]),
  }))
})
const brushCircle = computed(() => {
  if (selected.tool !== 'painted' || !props.pointer) return null
  return {
    ...place(props.pointer.x, props.pointer.y),
    r: Math.max(1, ((props.stroke?.size ?? brush.value.size) * scale.value) / 2),
  }
})
</script>

<template>
  <g>
    <path
      v-if="edges"
      :d="edges"
      :stroke="colour"
      :stroke-width="faint ? 0.8 : 1.2"
      :stroke-opacity="faint ? 0.6 : 1"
      :stroke-dasharray="cuts ? '6 2' : undefined"
      :fill="colour"
      :fill-opacity="cuts ? 0 : tint"
      fill-rule="evenodd"
      data-testid="painted"
    />
    <g v-for="one in strokes" :key="one.id" stroke-linecap="round">
      <polyline
        :points="one.line"
        :stroke="one.wanted ? '#b9f29a' : '#ffb45e'"
        :stroke-width="one.width"
        stroke-opacity="0.25"
      />
      <polyline
        :points="one.line"
        :stroke="one.wanted ? '#b9f29a' : '#ffb45e'"
        stroke-width="1.4"
        :stroke-dasharray="one.wanted ? undefined : '2 5'"
      />
    </g>
    <circle
      v-if="brushCircle"
      :cx="brushCircle.x"
      :cy="brushCircle.y"
      :r="brushCircle.r"
      :stroke="brush.wanted ? '#b9f29a' : '#ffb45e'"
      stroke-width="1.2"
    />
  </g>
</template>
