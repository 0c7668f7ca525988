<script setup lang="ts">
import { X } from '@lucide/vue'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import type { ListParameter, Settings } from '#core/parameters/parameters.ts'
import { linearColour, to8Bit } from '#core/pixels/colour/transfer.ts'
import { say } from '#core/say.ts'
import ColourField from '../../ui/ColourField.vue'
import IconButton from '../../ui/IconButton.vue'
import NumberField from '../../ui/NumberField.vue'

/** Colours on a way, on a bar: a click puts one there, a hand moves it along, and takes it off by drawing it away from the bar. */
const props = defineProps<{
  parameter: ListParameter
  rows: Settings[]
  /** Colours of both ends as they are now. */
  from: string
  to: string
}>()
const emit = defineEmits<{ change: [rows: Settings[]] }>()
const bar = useTemplateRef('bar')
const chosen = ref(-1)
/** Pixels from the bar beyond which a colour is taken off. */
const away = 36

const stops = computed(() => props.rows.map((row) => ({ at: Number(row.at), colour: String(row.colour) })))
/** All of the way by places, each kept one with its index. */
const way = computed(() =>
  [
    { at: 0, colour: props.from, index: -1 },
    ...stops.value.map((stop, index) => ({ ...stop, index })).sort((a, b) => a.at - b.at),
    { at: 1, colour: props.to, index: -1 },
  ].map((one) => ({ ...one, left: `${100 * one.at}%` })),
)
const handles = computed(() => way.value.filter((one) => one.index >= 0))
const drawn = computed(
  () =>
    `linear-gradient(to right in srgb-linear, ${way.value.map(({ colour, left }) => `${colour} ${left}`).join(', ')})`,
)
const field = (name: string) => props.parameter.of.find((one) => one.name === name)!
const place = computed(() => {
  const one = field('at')
  return one.type === 'number' ? one : null
})

const placeOf = (x: number) => {
  const box = bar.value!.getBoundingClientRect()
  return Math.round(200 * Math.max(0, Math.min(1, (x - box.left) / box.width))) / 200
}
const set = (index: number, change: Partial<{ at: number; colour: string }>) =>
  emit(
    'change',
    props.rows.map((row, i) => (i === index ? { ...row, ...change } : row)),
  )
function remove(index: number): void {
  chosen.value = -1
  emit(
    'change',
    props.rows.filter((_, i) => i !== index),
  )
}
/** A colour more, as the way is there. */
async function add(event: MouseEvent): Promise<void> {
  if (props.rows.length >= props.parameter.max) return
  const at = placeOf(event.clientX)
  const after = way.value.findIndex((one) => one.at > at)
  const [a, b] = [way.value[Math.max(0, after - 1)]!, way.value[after < 0 ? way.value.length - 1 : after]!]
  const u = b.at > a.at ? (at - a.at) / (b.at - a.at) : 0
  const [from, to] = [linearColour(a.colour), linearColour(b.colour)]
  const mixed = from.map((v, i) =>
    to8Bit(v + (to[i]! - v) * u)
      .toString(16)
      .padStart(2, '0'),
  )
  emit('change', [...props.rows, { at, colour: `#${mixed.join('')}` }])
  await nextTick()
  chosen.value = props.rows.length - 1
}
function grab(event: PointerEvent, index: number): void {
  chosen.value = index
  const handle = event.currentTarget as HTMLElement
  handle.setPointerCapture(event.pointerId)
  const box = bar.value!.getBoundingClientRect()
  const off = (to: PointerEvent) => Math.max(box.top - to.clientY, to.clientY - box.bottom) > away
  const move = (to: PointerEvent) => {
    handle.style.opacity = off(to) ? '0.3' : ''
    set(index, { at: placeOf(to.clientX) })
  }
  const drop = (to: PointerEvent) => {
    handle.removeEventListener('pointermove', move)
    handle.style.opacity = ''
    if (off(to)) remove(index)
  }
  handle.addEventListener('pointermove', move)
  handle.addEventListener('pointerup', drop, { once: true })
}
function byKeys(event: KeyboardEvent, index: number): void {
  const way = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0
  if (event.key === 'Delete' || event.key === 'Backspace') remove(index)
  else if (way) {
    const at = stops.value[index]!.at + way * (event.shiftKey ? 0.1 : 0.01)
    set(index, { at: Math.round(200 * Math.max(0, Math.min(1, at))) / 200 })
  } else return
  event.preventDefault()
  event.stopPropagation()
}
const now = computed(() => stops.value[chosen.value] ?? null)
</script>

<template>
  <section class="my-2 border-y py-2" :aria-label="parameter.label">
    <h3 class="heading mb-1.5" :title="parameter.hint">{{ parameter.label }}</h3>
    <div class="relative mx-2 mb-2 h-8">
      <button
        ref="bar"
        type="button"
        class="absolute inset-x-0 top-0 h-4 w-full cursor-copy rounded-[4px] border border-[#4a4a4a]"
        :style="{ background: drawn }"
        :aria-label="say`Put a colour on the way`"
        :title="say`Click: a colour here`"
        @click="add"
      />
      <template v-for="one in handles" :key="one.index">
        <button
          type="button"
          class="absolute top-3 size-4 -translate-x-1/2 cursor-ew-resize rounded-full border-2"
          :class="one.index === chosen ? 'z-10 border-wisp' : 'border-text'"
          :style="{ left: one.left, background: one.colour }"
          :aria-label="say`Colour ${one.index + 1} at ${Math.round(100 * one.at)} %`"
          :title="say`Drag along; away from the bar it is taken off`"
          @pointerdown.prevent="grab($event, one.index)"
          @focus="chosen = one.index"
          @keydown="byKeys($event, one.index)"
        />
      </template>
    </div>
    <div v-if="now && place" class="flex items-center gap-1">
      <ColourField
        small
        :label="say`Colour on the way`"
        :model-value="now.colour"
        @update:model-value="set(chosen, { colour: $event })"
      />
      <NumberField
        bare
        class="min-w-0 flex-1"
        :of="{ ...place, label: say`Place on the way` }"
        :model-value="now.at"
        @update:model-value="set(chosen, { at: $event })"
      />
      <IconButton :icon="X" :label="say`Take this colour off`" class="!size-6" @click="remove(chosen)" />
    </div>
    <p v-else class="px-2 text-s text-third">{{ say`A click on the bar puts a colour there.` }}</p>
  </section>
</template>
