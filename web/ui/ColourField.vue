<script setup lang="ts">
import ColourChoice from './ColourChoice.vue'
import FieldLabel from './FieldLabel.vue'

/** A colour as a swatch that opens the ways to choose one, with what it is as a number beside it. */
defineProps<{ label: string; modelValue: string; hint?: string; small?: boolean }>()
defineEmits<{ 'update:modelValue': [value: string] }>()
</script>

<template>
  <span class="flex h-7 items-center gap-2" :title="hint">
    <FieldLabel v-if="!small" :label="label" />
    <ColourChoice
      :class="{ 'flex-1': !small }"
      :label="label"
      :model-value="modelValue"
      @update:model-value="$emit('update:modelValue', $event)"
    >
      <span
        class="h-6 rounded-[6px] border border-[#4a4a4a]"
        :class="small ? 'w-6' : 'flex-1'"
        :style="{ background: modelValue }"
      />
      <span v-if="!small" class="numbers w-[66px] self-center pr-1 text-right">{{ modelValue }}</span>
    </ColourChoice>
  </span>
</template>
