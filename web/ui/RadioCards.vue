<script setup lang="ts" generic="T extends string">
import { RadioGroup, RadioGroupDescription, RadioGroupLabel, RadioGroupOption } from '@headlessui/vue'

/**
 * One of a few, each with a line that says what it is for; below each other, or `three` in a row with that line as a hint. What has `under` in
 * common stands under that.
 */
const props = defineProps<{
  label: string
  options: readonly { value: T; label: string; about: string; under?: string }[]
  three?: boolean
}>()
const chosen = defineModel<T>({ required: true })
const begins = (at: number) => props.options[at]!.under !== props.options[at - 1]?.under
</script>

<template>
  <RadioGroup v-model="chosen">
    <RadioGroupLabel as="div" class="heading mb-2">{{ label }}</RadioGroupLabel>
    <div class="grid gap-1" :class="{ 'grid-cols-3': three }">
      <template v-for="(one, i) in options" :key="one.value">
        <p v-if="one.under && begins(i)" class="mt-1 px-3 text-s text-third first:mt-0">{{ one.under }}</p>
        <RadioGroupOption v-slot="{ checked }" :value="one.value" as="template">
          <div
            class="flex cursor-pointer items-start rounded-[7px] py-1.5"
            :class="[checked ? 'bg-selected' : 'hover:bg-raised', three ? 'gap-2 px-2' : 'gap-3 px-3']"
            :title="three ? one.about : undefined"
          >
            <span class="mt-0.5 flex size-4 shrink-0 items-center justify-center rounded-full border border-third">
              <span v-if="checked" class="size-2 rounded-full bg-text" />
            </span>
            <span class="min-w-0">
              <RadioGroupLabel as="span">{{ one.label }}</RadioGroupLabel><RadioGroupDescription
                as="span"
                :class="three ? 'sr-only' : 'block text-second'"
                >{{ one.about }}</RadioGroupDescription
              >
            </span>
          </div>
        </RadioGroupOption>
      </template>
    </div>
  </RadioGroup>
</template>
