<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'

/** A phrase of a sentence that opens what is behind it; the panel lies below the card, as wide as that: it covers none of its words. */
defineProps<{ label: string }>()
</script>

<template>
  <Popover as="span">
    <PopoverButton class="inline rounded-[5px] text-left" :aria-label="label"><slot name="phrase" /></PopoverButton>
    <PopoverPanel
      class="menu absolute inset-x-0 top-full z-10 mt-1 flex flex-col gap-1 p-2.5 leading-5 text-text"
      role="group"
      :aria-label="label"
    >
      <slot />
    </PopoverPanel>
  </Popover>
</template>
