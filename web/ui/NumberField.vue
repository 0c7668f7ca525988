<script setup lang="ts">
import { computed, ref } from 'vue'
import { typedNumber } from './typedNumber.ts'

/**
 * A number with a slider: dragged, typed (with arithmetic), stepped with the wheel or the arrows; a double click
 * on the slider returns to the default. `%` values are 0..1 inside and shown times 100.
 */
const props = defineProps<{
  label: string
  hint?: string
  modelValue: number
  unit: string
  min: number
  max: number
  step: number
  standard?: number
  /** Without the label and slider, as on a row of a list. */
  bare?: boolean
  /** The number alone. */
  plain?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number] }>()

/** Units that would run into their number. */
const short: Record<string, string> = { frames: 'f', stops: 'st' }
const factor = computed(() => (props.unit === '%' ? 100 : 1))
const digits = computed(() => Math.max(0, Math.ceil(-Math.log10(props.step * factor.value))))
const written = computed(() => (props.modelValue * factor.value).toFixed(digits.value))
const typed = ref<string | null>(null)

function set(value: number): void {
  const stepped = Math.round(value / props.step) * props.step
  const bounded = Math.min(props.max, Math.max(props.min, stepped))
  const clean = Number(bounded.toFixed(6))
  if (clean !== props.modelValue) emit('update:modelValue', clean)
}
function take(): void {
  const value = typed.value === null ? null : typedNumber(typed.value, props.label)
  typed.value = null
  if (value !== null) set(value / factor.value)
}
function byKeys(event: KeyboardEvent): void {
  const way = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
  if (event.key === 'Enter') take()
  else if (event.key === 'Escape') typed.value = null
  else if (way) set(props.modelValue + way * props.step * (event.shiftKey ? 10 : 1))
  else return
  event.preventDefault()
  event.stopPropagation()
}
function byWheel(event: WheelEvent): void {
  if (document.activeElement !== event.currentTarget) return
  event.preventDefault()
  set(props.modelValue - Math.sign(event.deltaY) * props.step)
}

// Wide ranges are felt in their lower part: the slider runs on a square.
const curved = computed(() => props.min >= 0 && props.max / props.step > 300)
const share = computed(() => {
  const u = (props.modelValue - props.min) / (props.max - props.min)
  return curved.value ? Math.cbrt(u) : u
})
function slide(event: Event): void {
  const u = Number((event.target as HTMLInputElement).value)
  set(props.min + (curved.value ? u ** 3 : u) * (props.max - props.min))
}
</script>

<template>
  <label class="flex h-7 items-center gap-2" :title="hint">
    <span v-if="!bare" class="w-[88px] shrink-0 truncate text-second">{{ label }}</span>
    <input
      v-if="!plain"
      type="range"
      class="slider min-w-0 flex-1"
      min="0"
      max="1"
      step="any"
      tabindex="-1"
      aria-hidden="true"
      :value="share"
      @input="slide"
      @dblclick="standard !== undefined && set(standard)"
    />
    <span class="relative w-[66px] shrink-0">
      <input
        class="numbers h-7 w-full rounded-[6px] border border-transparent bg-transparent pl-1 text-right hover:bg-raised focus:bg-raised"
        :class="unit ? 'pr-[22px]' : 'pr-1.5'"
        inputmode="decimal"
        spellcheck="false"
        autocomplete="off"
        :aria-label="label"
        :value="typed ?? written"
        @focus="($event.target as HTMLInputElement).select()"
        @input="typed = ($event.target as HTMLInputElement).value"
        @blur="take"
        @keydown="byKeys"
        @wheel="byWheel"
      />
      <span
        v-if="unit"
        class="numbers pointer-events-none absolute top-1.5 right-1 text-s text-third"
        aria-hidden="true"
        >{{ short[unit] ?? unit }}</span
      >
    </span>
  </label>
</template>

<style scoped>
.slider {
  appearance: none;
  height: 20px;
  background: transparent;
  cursor: pointer;
}
.slider::-webkit-slider-runnable-track {
  height: 3px;
  border-radius: 2px;
  background: #4a4a4a;
}
.slider::-webkit-slider-thumb {
  appearance: none;
  width: 14px;
  height: 14px;
  margin-top: -5.5px;
  border-radius: 50%;
  background: var(--color-text);
}
.slider::-moz-range-track {
  height: 3px;
  border-radius: 2px;
  background: #4a4a4a;
}
.slider::-moz-range-thumb {
  width: 14px;
  height: 14px;
  border: 0;
  border-radius: 50%;
  background: var(--color-text);
}
</style>
