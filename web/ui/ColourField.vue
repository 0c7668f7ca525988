<script setup lang="ts">
import ColourChoice from './ColourChoice.vue'
import FieldLabel from './FieldLabel.vue'
import { hexColour } from './hexColour.ts'

/** A colour as a swatch that opens the ways to choose one, and as #rrggbb to type. */
const props = defineProps<{ label: string; modelValue: string; hint?: string; small?: boolean }>()
const emit = defineEmits<{ 'update:modelValue': [value: string] }>()

function typed(event: Event): void {
  const input = event.target as HTMLInputElement
  const value = hexColour(input.value)
  if (value) emit('update:modelValue', value)
  else input.value = props.modelValue
}
</script>

<template>
  <span class="flex h-7 items-center gap-2" :title="hint">
    <FieldLabel v-if="!small" :label="label" />
    <ColourChoice
      :class="{ 'flex-1': !small }"
      :label="label"
      :model-value="modelValue"
      @update:model-value="emit('update:modelValue', $event)"
    >
      <span
        class="h-6 rounded-[6px] border border-[#4a4a4a]"
        :class="small ? 'w-6' : 'flex-1'"
        :style="{ background: modelValue }"
      />
    </ColourChoice>
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
