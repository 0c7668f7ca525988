<script setup lang="ts">
import FieldLabel from './FieldLabel.vue'
/** A colour as a swatch (the system's own picker) and as #rrggbb to type. */
const props = defineProps<{ label: string; modelValue: string; hint?: string; small?: boolean }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()

function typed(event: Event): void {
  const input = event.target as HTMLInputElement
  const value = input.value.trim().replace(/^#?/, '#').toLowerCase()
  if (/^#[0-9a-f]{6}$/.test(value)) emit('update:modelValue', value)
  else input.value = props.modelValue
}
</script>

<template>
  <span class="flex h-7 items-center gap-2" :title="hint">
    <FieldLabel v-if="!small" :label="label" />
    <input
      type="color"
      class="swatch h-6 cursor-pointer rounded-[6px]"
      :class="small ? 'w-6' : 'min-w-0 flex-1'"
      :value="modelValue"
      :aria-label="`${label}: pick`"
      @input="emit('update:modelValue', ($event.target as HTMLInputElement).value)"
    />
    <input
      v-if="!small"
      class="numbers h-7 w-[66px] shrink-0 rounded-[6px] border border-transparent bg-transparent px-1 text-right hover:bg-raised focus:bg-raised"
      spellcheck="false"
      :aria-label="label"
      :value="modelValue"
      @change="typed"
      @keydown.enter="typed"
    />
  </span>
</template>

<style scoped>
.swatch {
  appearance: none;
  border: 0;
  padding: 0;
  background: none;
}
.swatch::-webkit-color-swatch-wrapper {
  padding: 0;
}
.swatch::-webkit-color-swatch {
  border: 1px solid #4a4a4a;
  border-radius: 6px;
}
</style>
