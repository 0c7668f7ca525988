<script setup lang="ts">
import { computed, ref } from 'vue'
import type { NumberParameter } from '#core/parameters/parameters.ts'
import { valueOf, writtenOf } from '#core/parameters/written.ts'
import { decimals, said } from '#core/say.ts'
import FieldLabel from './FieldLabel.vue'
import { typedNumber } from './typedNumber.ts'

/**
 * A number with a slider: dragged, typed (with arithmetic), stepped with the wheel or the arrows; a double click
 * on the slider returns to the default. `%` values are 0..1 inside and shown times 100.
 */
const props = defineProps<{
  of: Pick<NumberParameter, 'label' | 'hint' | 'min' | 'max' | 'step' | 'default' | 'neutral'> & { unit: string }
  modelValue: number
  /** Without the label and slider, as on a row of a list. */
  bare?: boolean
  /** The number alone. */
  plain?: boolean
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number] }>()

/** Units that would run into their number. */
const short: Record<string, string> = { frames: 'f', stops: 'st', semitones: 'st' }
const unit = computed(() => short[props.of.unit] ?? said(props.of.unit))
const digits = computed(() => Math.max(0, Math.ceil(-Math.log10(writtenOf({ unit: props.of.unit }, props.of.step)))))
const written = computed(() => decimals(writtenOf(props.of, props.modelValue), digits.value))
const typed = ref<string | null>(null)

function set(value: number): void {
  const stepped = Math.round(value / props.of.step) * props.of.step
  const bounded = Math.min(props.of.max, Math.max(props.of.min, stepped))
  const clean = Number(bounded.toFixed(6))
  if (clean !== props.modelValue) emit('update:modelValue', clean)
}
function take(): void {
  const value = typed.value === null ? null : typedNumber(typed.value, props.of.label)
  typed.value = null
  if (value !== null) set(valueOf(props.of, value))
}
function byKeys(event: KeyboardEvent): void {
  const way = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
  const field = event.currentTarget as HTMLInputElement
  if (event.key === 'Enter') {
    take()
    // The keys are the bench's again; within a panel they stay there, or Escape would not close it.
    if (!field.closest('.menu')) field.blur()
  } else if (event.key === 'Escape' && typed.value !== null) typed.value = null
  else if (way) set(props.modelValue + way * props.of.step * (event.shiftKey ? 10 : 1))
  else return
  event.preventDefault()
  event.stopPropagation()
}
function byWheel(event: WheelEvent): void {
  if (document.activeElement !== event.currentTarget) return
  event.preventDefault()
  set(props.modelValue - Math.sign(event.deltaY) * props.of.step)
}

// Wide ranges are felt in their lower part: the slider runs on a square.
const curved = computed(() => props.of.neutral === undefined && props.of.min >= 0 && props.of.max / props.of.step > 300)
/** Each half of a slider goes from what changes nothing to its end. */
const halves = computed(() => {
  const { min, max, neutral } = props.of
  return neutral === undefined ? null : { below: neutral - min, above: max - neutral, neutral }
})
const share = computed(() => {
  const { min, max } = props.of
  if (halves.value) {
    const { below, above, neutral } = halves.value
    const off = props.modelValue - neutral
    return 0.5 + (0.5 * off) / (off < 0 ? below : above)
  }
  const u = (props.modelValue - min) / (max - min)
  return curved.value ? Math.cbrt(u) : u
})
/** Share of the slider around its middle within which it stands there. */
const held = 0.02
function slide(event: Event): void {
  const u = Number((event.target as HTMLInputElement).value)
  const { min, max } = props.of
  if (halves.value) {
    const { below, above, neutral } = halves.value
    const off = Math.abs(u - 0.5) < held ? 0 : 2 * (u - 0.5)
    return set(neutral + off * (off < 0 ? below : above))
  }
  set(min + (curved.value ? u ** 3 : u) * (max - min))
}
</script>

<template>
  <label class="flex h-7 items-center gap-2" :title="of.hint">
    <FieldLabel v-if="!bare" :label="of.label" />
    <input
      v-if="!plain"
      type="range"
      class="slider min-w-0 flex-1"
      :class="{ halved: halves }"
      min="0"
      max="1"
      step="any"
      tabindex="-1"
      aria-hidden="true"
      :value="share"
      @input="slide"
      @dblclick="set(of.default)"
    />
    <span class="relative w-[66px] shrink-0">
      <input
        class="numbers h-7 w-full rounded-[6px] border border-transparent bg-transparent pl-1 text-right hover:bg-raised focus:bg-raised"
        :class="!unit ? 'pr-1.5' : unit.length < 3 ? 'pr-[22px]' : 'pr-[29px]'"
        inputmode="decimal"
        spellcheck="false"
        autocomplete="off"
        :aria-label="of.label"
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
        >{{ unit }}</span
      >
    </span>
  </label>
</template>

<style scoped>
.halved {
  background: linear-gradient(#77746e, #77746e) center / 1.5px 9px no-repeat;
}
.slider {
  appearance: none;
  height: 20px;
  background-color: transparent;
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
