<script setup lang="ts">
import { computed } from 'vue'
import type { Part } from '#core/records/types.ts'
import { anchors } from '#core/shapes/kind.ts'
import { outlinePath, softest } from '#core/shapes/kinds/outline.ts'
import { reachedTip, rodReach } from '#core/shapes/kinds/rod.ts'
import { useOpenShot } from '../openShot.ts'
import { useRuns } from '../runs/runs.ts'
import { useSelection } from '../selection.ts'
import { kindOf } from '../tracing.ts'
import { useViewing } from '../viewing.ts'
import { useStageDrawing } from './drawing.ts'
import { onionShapes } from './onions.ts'
import { type Grip, shownHandles } from './tracer.ts'

/** The chosen shape with its handles and its neighbours in time. */
const props = defineProps<{
  part: Part
  points: readonly number[]
  dragged: boolean
  /** What lies under the pointer. */
  under: Grip | null
}>()
const opened = useOpenShot()
const selected = useSelection()
const viewing = useViewing()
const runs = useRuns()
const { place, polyline, svgPath, pathOf, colourOf, faint, tint } = useStageDrawing()

const chosen = computed(() => {
  const { part: one, points: shape } = props
  const kind = kindOf(one)
  const reach = one.kind === 'rod' ? rodReach(one.settings) : 0
  const soft = one.kind === 'outline' && softest(shape) > 0.05 ? svgPath(outlinePath(shape, one.settings, 1)) : null
  const [hx, hy] = shape as [number, number]
  const ghost = !props.dragged && !runs.live(one, viewing.seen) && opened.shape(one, viewing.seen) === null
  return {
    colour: colourOf(one),
    cuts: one.role !== 'add',
    ghost,
    d: pathOf(one, shape),
    soft,
    beyond: reach ? polyline([shape[2]!, shape[3]!, ...reachedTip(shape, reach)]) : null,
    levers: shownHandles(kind, shape, selected.points).flatMap((i) => {
      const form = kind.handleForm(shape, i)
      if (form !== 'lever' && form !== 'soft') return []
      const owner = anchors(kind, shape).findLast((a) => a <= i)!
      const line = [shape[2 * owner]!, shape[2 * owner + 1]!, shape[2 * i]!, shape[2 * i + 1]!]
      return [{ line: polyline(line), soft: form === 'soft' }]
    }),
    handles: (one.locked ? [] : shownHandles(kind, shape, selected.points)).map((i) => {
      const form = kind.handleForm(shape, i)
      const grip = props.under
      const under = typeof grip === 'object' && grip !== null && 'point' in grip && grip.point === i
      const active = selected.points.includes(i)
      return {
        ...{ index: i, form, ...place(shape[2 * i]!, shape[2 * i + 1]!) },
        paint: {
          fill: active ? '#b9f29a' : under ? colourOf(one) : '#131313',
          'fill-opacity': active || under ? 1 : 0.35,
          stroke: '#fff',
          'stroke-width': form === 'soft' ? 1 : 1.6,
          'stroke-dasharray': ghost ? '3 2' : form === 'soft' ? '2 2' : undefined,
        },
      }
    }),
    // The lines between the middles of a pin's sides meet where its diagonals do.
    grid:
      one.kind === 'pin'
        ? [polyline([hx, hy, shape[4]!, shape[5]!]), polyline(shape.slice(2, 4).concat(shape.slice(6, 8)))]
        : [],
  }
})

const onions = computed(() =>
  viewing.onion && !props.dragged
    ? onionShapes(props.part, viewing.seen, viewing.onions).map((one) => ({
        ...one,
        d: pathOf(props.part, one.points),
      }))
    : [],
)
</script>

<template>
  <g>
    <path
      v-for="onion in onions"
      :key="onion.frame"
      :d="onion.d"
      :stroke="chosen.colour"
      stroke-width="0.9"
      :stroke-opacity="onion.strength"
    />
    <polyline
      v-if="chosen.beyond"
      :points="chosen.beyond"
      :stroke="chosen.colour"
      stroke-width="1.4"
      stroke-dasharray="1.5 4"
      stroke-linecap="round"
    />
    <path
      v-if="chosen.soft"
      :d="chosen.soft"
      :stroke="chosen.colour"
      stroke-width="1"
      stroke-opacity="0.7"
      stroke-dasharray="2 3"
    />
    <path
      v-if="!faint"
      :d="chosen.d"
      stroke="#000"
      stroke-opacity="0.5"
      stroke-width="3.2"
      :stroke-dasharray="chosen.ghost ? '5 4' : undefined"
    />
    <path
      :d="chosen.d"
      :stroke="chosen.colour"
      :stroke-width="faint && !chosen.ghost ? 0.8 : 1.2"
      :stroke-opacity="faint && !chosen.ghost ? 0.6 : 1"
      :stroke-dasharray="chosen.ghost ? '5 4' : chosen.cuts ? '6 2' : undefined"
      :fill="chosen.colour"
      :fill-opacity="chosen.ghost || chosen.cuts ? 0 : tint"
    />
    <polyline
      v-for="line in chosen.grid"
      :key="line"
      :points="line"
      :stroke="chosen.colour"
      stroke-width="0.8"
      stroke-opacity="0.5"
    />
    <polyline
      v-for="lever in chosen.levers"
      :key="lever.line"
      :points="lever.line"
      stroke="#fff"
      stroke-width="1"
      :stroke-dasharray="lever.soft ? '2 3' : undefined"
    />
    <template v-for="handle in chosen.handles" :key="handle.index">
      <rect
        v-if="handle.form === 'heel' || handle.form === 'corner'"
        :x="handle.x - 5"
        :y="handle.y - 5"
        width="10"
        height="10"
        v-bind="handle.paint"
      />
      <circle
        v-else
        :cx="handle.x"
        :cy="handle.y"
        :r="handle.form === 'lever' || handle.form === 'soft' ? 3.5 : 5.5"
        v-bind="handle.paint"
      />
    </template>
  </g>
</template>
