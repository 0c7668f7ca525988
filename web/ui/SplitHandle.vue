<script setup lang="ts">
import { computed } from 'vue'
import { say } from '#core/say.ts'

/**
 * The edge of a panel, by which it is drawn wider and narrower: with the mouse, with the arrows; a double click gives it back the
 * size that it has by itself. Sizes in px.
 */
const size = defineModel<number>({ required: true })
const props = defineProps<{
  label: string
  /** On which side of its panel the edge lies. */
  at: 'right' | 'left' | 'top'
  least: number
  most: number
}>()
const emit = defineEmits<{ reset: [] }>()
/** Px that an arrow key makes it larger by. */
const step = 16

const lies = computed(() => (props.at === 'top' ? 'horizontal' : 'vertical'))
const kept = (wanted: number) => Math.round(Math.max(props.least, Math.min(props.most, wanted)))

function grab(event: PointerEvent): void {
  if (event.button !== 0) return
  const edge = event.currentTarget as HTMLElement
  edge.setPointerCapture(event.pointerId)
  const along = (now: PointerEvent) =>
    props.at === 'right' ? now.clientX : props.at === 'left' ? -now.clientX : -now.clientY
  const [from, begun] = [size.value, along(event)]
  const move = (now: PointerEvent) => (size.value = kept(from + along(now) - begun))
  edge.addEventListener('pointermove', move)
  const drop = () => edge.removeEventListener('pointermove', move)
  edge.addEventListener('pointerup', drop, { once: true })
  edge.addEventListener('pointercancel', drop, { once: true })
}
const larger = { right: 'ArrowRight', left: 'ArrowLeft', top: 'ArrowUp' } as const
const smaller = { right: 'ArrowLeft', left: 'ArrowRight', top: 'ArrowDown' } as const
function byKeys(event: KeyboardEvent): void {
  if (event.key === larger[props.at]) size.value = kept(size.value + step)
  else if (event.key === smaller[props.at]) size.value = kept(size.value - step)
  else if (event.key === 'Enter') emit('reset')
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div
    role="separator"
    tabindex="0"
    class="absolute z-10 touch-none after:absolute after:bg-transparent hover:after:bg-[#5d7a4c] focus-visible:outline-none focus-visible:after:bg-wisp active:after:bg-wisp"
    :class="{
      'inset-y-0 -right-1 w-2 cursor-ew-resize after:inset-y-0 after:left-[3px] after:w-0.5': at === 'right',
      'inset-y-0 -left-1 w-2 cursor-ew-resize after:inset-y-0 after:left-[3px] after:w-0.5': at === 'left',
      'inset-x-0 -top-1 h-2 cursor-ns-resize after:inset-x-0 after:top-[3px] after:h-0.5': at === 'top',
    }"
    :aria-label="label"
    :aria-orientation="lies"
    :aria-valuenow="size"
    :aria-valuemin="least"
    :aria-valuemax="most"
    :title="say`Drag; a double click gives it its own size back`"
    @pointerdown="grab"
    @dblclick="emit('reset')"
    @keydown="byKeys"
  />
</template>
