<script setup lang="ts">
import { computed } from 'vue'
import { outlinePath } from '#core/shapes/kinds/outline.ts'
import { useStageDrawing } from './drawing.ts'
import type { Tracer } from './tracer.ts'

/** What is being drawn and not a shape yet. */
const props = defineProps<{ state: Tracer['state']; pointer: { x: number; y: number } | null }>()
const { places, polyline, svgPath } = useStageDrawing()

const begun = computed(() => {
  const { state } = props
  const to = props.pointer ? [props.pointer.x, props.pointer.y] : []
  switch (state.name) {
    case 'placing':
      return { line: polyline([...state.clicks, ...to]), dots: places(state.clicks), closed: false }
    case 'stroking':
      return { line: polyline(state.stroke), dots: [], closed: false }
    case 'selecting': {
      const [x0, y0, x1, y1] = state.path as [number, number, number?, number?]
      if (x1 === undefined || y1 === undefined) return null
      return { line: polyline(state.lasso ? state.path : [x0, y0, x1, y0, x1, y1, x0, y1]), dots: [], closed: true }
    }
    case 'outlining': {
      const nodes = state.nodes
      const end = nodes.length - 8
      const path = outlinePath(nodes, {}, 0).slice(0, -6)
      if (to.length && !state.press) path.push(nodes[end + 4]!, nodes[end + 5]!, ...to, ...to)
      const lever = nodes.slice(end + 2, end + 6)
      return {
        d: svgPath(path).slice(0, -1),
        line: polyline([lever[0]!, lever[1]!, nodes[end]!, nodes[end + 1]!, lever[2]!, lever[3]!]),
        dots: places(nodes.filter((_, i) => i % 8 < 2)),
        closed: false,
      }
    }
    default:
      return null
  }
})
</script>

<template>
  <g v-if="begun">
    <path v-if="begun.d" :d="begun.d" stroke="#000" stroke-opacity="0.5" stroke-width="3" />
    <path v-if="begun.d" :d="begun.d" stroke="#fff" stroke-width="1.2" />
    <component
      :is="begun.closed ? 'polygon' : 'polyline'"
      :points="begun.line"
      stroke="#000"
      stroke-opacity="0.5"
      stroke-width="3"
    />
    <component
      :is="begun.closed ? 'polygon' : 'polyline'"
      :points="begun.line"
      stroke="#fff"
      stroke-width="1.2"
      stroke-dasharray="5 4"
    />
    <rect
      v-for="(dot, i) in begun.dots"
      :key="i"
      :x="dot.x - 5"
      :y="dot.y - 5"
      width="10"
      height="10"
      :fill="i === 0 ? '#b9f29a' : '#ebe9e4'"
      stroke="#131313"
      stroke-width="1.4"
    />
  </g>
</template>
