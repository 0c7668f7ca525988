<script setup lang="ts">
import { Listbox, ListboxButton, ListboxOption, ListboxOptions } from '@headlessui/vue'
import { Check } from '@lucide/vue'

/** A word of a sentence that is chosen from a list; the slot shows it. */
defineProps<{
  label: string
  modelValue: string | string[]
  options: readonly { value: string; label: string; about?: string }[]
  multiple?: boolean
  /** What to do when there is nothing to choose from. */
  nothing: string
}>()
// The list gives back what it was given: one value, or several where `multiple`.
defineEmits<{ 'update:modelValue': [value: never] }>()
</script>

<template>
  <Listbox
    as="span"
    class="relative"
    :multiple="multiple"
    :model-value="modelValue"
    @update:model-value="$emit('update:modelValue', $event as never)"
  >
    <ListboxButton class="inline rounded-[5px] text-left" :aria-label="label"><slot /></ListboxButton>
    <ListboxOptions class="menu absolute top-full left-0 mt-1">
      <ListboxOption
        v-for="one in options"
        :key="one.value"
        v-slot="{ active, selected }"
        :value="one.value"
        as="template"
      >
        <li class="menu-item" :class="{ 'menu-item-active': active }">
          <Check :size="14" :class="{ invisible: !selected }" aria-hidden="true" /> {{ one.label }}
          <span class="text-third">{{ one.about }}</span>
        </li>
      </ListboxOption>
      <li v-if="options.length === 0" class="px-2.5 py-1.5 text-second">{{ nothing }}</li>
    </ListboxOptions>
  </Listbox>
</template>
