<script setup lang="ts">
import { say } from '#core/say.ts'
import { computed } from 'vue'
import { frameGrips, gripPlace, type SelectionFrame } from '#core/geometry/selectionFrame.ts'
import { useStageDrawing } from './drawing.ts'
import { hitRadii } from './tracer.ts'

/** The frame around what is chosen: corners, sides, the grip that turns, and the pivot. */
const props = defineProps<{ frame: SelectionFrame }>()
const { place, polyline, scale } = useStageDrawing()

const framed = computed(() => {
  const { left, top, right, bottom } = props.frame
  const out = hitRadii.turn / scale.value
  return {
    box: polyline([left, top, right, top, right, bottom, left, bottom]),
    stem: polyline([...gripPlace(props.frame, { u: 0.5, v: 0 }, 0), ...gripPlace(props.frame, 'turn', out)]),
    grips: frameGrips.map((grip) => {
      const { x, y } = place(...gripPlace(props.frame, grip, out))
      const form =
        grip === 'pivot' || grip === 'turn' ? grip : grip.u === 0.5 || grip.v === 0.5 ? say`side` : say`corner`
      return { form, x, y, half: form === 'side' ? 3.5 : 4.5 }
    }),
  }
})
</script>

<template>
  <g data-testid="selection-frame">
    <polygon :points="framed.box" stroke="#000" stroke-opacity="0.5" stroke-width="3" />
    <polygon :points="framed.box" stroke="#fff" stroke-width="1" stroke-dasharray="4 3" />
    <polyline :points="framed.stem" stroke="#fff" stroke-width="1" />
    <template v-for="(grip, i) in framed.grips" :key="i">
      <g v-if="grip.form === 'pivot'" stroke="#fff" stroke-width="1.4">
        <path :d="`M${grip.x - 8} ${grip.y}H${grip.x + 8}M${grip.x} ${grip.y - 8}V${grip.y + 8}`" />
        <circle :cx="grip.x" :cy="grip.y" r="3.5" fill="#131313" />
      </g>
      <circle
        v-else-if="grip.form === 'turn'"
        :cx="grip.x"
        :cy="grip.y"
        r="5"
        fill="#ebe9e4"
        stroke="#131313"
        stroke-width="1.4"
      />
      <rect
        v-else
        :x="grip.x - grip.half"
        :y="grip.y - grip.half"
        :width="2 * grip.half"
        :height="2 * grip.half"
        :transform="grip.form === 'side' ? `rotate(45 ${grip.x} ${grip.y})` : undefined"
        fill="#ebe9e4"
        stroke="#131313"
        stroke-width="1.4"
      />
    </template>
  </g>
</template>
