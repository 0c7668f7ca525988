<script setup lang="ts">
import { computed, shallowRef, useTemplateRef } from 'vue'
import type { Tone } from '#core/parameters/parameters.ts'
import { toneCurve } from '#core/pixels/colour/tone.ts'
import { say } from '#core/say.ts'

/**
 * A tone curve: drag a place, click between to add one, double click to take one away. Dark is at the left, bright at
 * the top.
 */
const props = defineProps<{ label: string; hint: string; modelValue: Tone }>()
const emit = defineEmits<{ 'update:modelValue': [value: Tone] }>()
const side = 76
const most = 16
const box = useTemplateRef<SVGElement>('box')
const held = shallowRef<{ index: number; places: Tone } | null>(null)
const places = computed(() => held.value?.places ?? props.modelValue)
const line = computed(() => {
  const curve = toneCurve(places.value)
  const points = Array.from({ length: 49 }, (_, i) => [i / 48, Math.min(1, Math.max(0, curve(i / 48)))] as const)
  return points.map(([x, y]) => `${x * side},${(1 - y) * side}`).join(' ')
})
const changed = computed(() => props.modelValue.some(([x, y]) => Math.abs(x - y) > 1e-3))

function placeOf(event: PointerEvent): [number, number] {
  const { left, top, width, height } = box.value!.getBoundingClientRect()
  const unit = (v: number) => Math.min(1, Math.max(0, v))
  const round = (v: number) => Math.round(v * 1000) / 1000
  return [round(unit((event.clientX - left) / width)), round(unit(1 - (event.clientY - top) / height))]
}
function down(event: PointerEvent): void {
  if (event.button !== 0) return
  box.value!.setPointerCapture(event.pointerId)
  const [x, y] = placeOf(event)
  const near = props.modelValue.findIndex(([px, py]) => Math.hypot(px - x, py - y) < 0.09)
  if (near >= 0) held.value = { index: near, places: props.modelValue }
  else if (props.modelValue.length < most) {
    const places = [...props.modelValue, [x, y] as [number, number]].sort((a, b) => a[0] - b[0])
    held.value = { index: places.findIndex(([px]) => px === x), places }
  }
}
function move(event: PointerEvent): void {
  if (!held.value) return
  const { index, places } = held.value
  const [x, y] = placeOf(event)
  // Between its neighbours: places never pass each other.
  const low = index > 0 ? places[index - 1]![0] + 0.01 : 0
  const high = index < places.length - 1 ? places[index + 1]![0] - 0.01 : 1
  const next = [...places]
  next[index] = [Math.min(high, Math.max(low, x)), y]
  held.value = { index, places: next }
}
function up(): void {
  if (held.value) emit('update:modelValue', held.value.places)
  held.value = null
}
function remove(index: number): void {
  if (props.modelValue.length > 2)
    emit(
      'update:modelValue',
      props.modelValue.filter((_, i) => i !== index),
    )
}
</script>

<template>
  <div class="flex gap-2 py-1" :title="hint">
    <span class="w-[88px] shrink-0 text-second">
      {{ say`${label} curve` }}
      <button
        v-if="changed"
        type="button"
        class="button-quiet -ml-2"
        @click="
          emit('update:modelValue', [
            [0, 0],
            [1, 1],
          ])
        "
      >
        {{ say`straighten` }}
      </button>
    </span>
    <svg
      ref="box"
      class="cursor-crosshair touch-none overflow-visible rounded-[4px] bg-ground"
      :width="side"
      :height="side"
      role="img"
      :aria-label="say`${label} tone curve`"
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
    >
      <path :d="`M0 ${side}L${side} 0`" stroke="#3a3a3a" />
      <polyline :points="line" fill="none" stroke="#ebe9e4" stroke-width="1.4" />
      <circle
        v-for="([x, y], i) in places"
        :key="i"
        :cx="x * side"
        :cy="(1 - y) * side"
        r="4"
        :fill="held?.index === i ? '#b9f29a' : '#ebe9e4'"
        stroke="#131313"
        @dblclick.stop="remove(i)"
      />
    </svg>
  </div>
</template>
