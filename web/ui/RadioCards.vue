<script setup lang="ts" generic="T extends string">
import { RadioGroup, RadioGroupLabel, RadioGroupOption } from '@headlessui/vue'

/** One of a few, each with a line that says what it is for; below each other, or `two` in a row. */
defineProps<{ label: string; options: readonly { value: T; label: string; about: string }[]; two?: boolean }>()
const chosen = defineModel<T>({ required: true })
</script>

<template>
  <RadioGroup v-model="chosen">
    <RadioGroupLabel class="heading mb-2 block">{{ label }}</RadioGroupLabel>
    <div class="grid gap-1" :class="{ 'grid-cols-2': two }">
      <RadioGroupOption v-for="one in options" :key="one.value" v-slot="{ checked }" :value="one.value" as="template">
        <div
          class="flex cursor-pointer items-start rounded-[7px] py-1.5"
          :class="[checked ? 'bg-selected' : 'hover:bg-raised', two ? 'gap-2 px-2' : 'gap-3 px-3']"
        >
          <span class="mt-0.5 flex size-4 shrink-0 items-center justify-center rounded-full border border-third">
            <span v-if="checked" class="size-2 rounded-full bg-text" />
          </span>
          <span>
            {{ one.label }}<span class="block text-second">{{ one.about }}</span>
          </span>
        </div>
      </RadioGroupOption>
    </div>
  </RadioGroup>
</template>
