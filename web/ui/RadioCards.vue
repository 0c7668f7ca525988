<script setup lang="ts" generic="T extends string">
import { RadioGroup, RadioGroupLabel, RadioGroupOption } from '@headlessui/vue'

/** One of a few, each with a line that says what it is for. */
defineProps<{ label: string; options: readonly { value: T; label: string; about: string }[] }>()
const chosen = defineModel<T>({ required: true })
</script>

<template>
  <RadioGroup v-model="chosen">
    <RadioGroupLabel class="heading mb-2 block">{{ label }}</RadioGroupLabel>
    <RadioGroupOption v-for="one in options" :key="one.value" v-slot="{ checked }" :value="one.value" as="template">
      <div
        class="mb-1 flex cursor-pointer items-start gap-3 rounded-[7px] px-3 py-2"
        :class="checked ? 'bg-selected' : 'hover:bg-raised'"
      >
        <span class="mt-0.5 flex size-4 shrink-0 items-center justify-center rounded-full border border-third">
          <span v-if="checked" class="size-2 rounded-full bg-text" />
        </span>
        <span>
          {{ one.label }}<span class="block text-second">{{ one.about }}</span>
        </span>
      </div>
    </RadioGroupOption>
  </RadioGroup>
</template>
