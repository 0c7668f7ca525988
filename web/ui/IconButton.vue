<script setup lang="ts">
import type { Component } from 'vue'

/** A button with a picture only: its name and key are in the tooltip and told to a screen reader. */
defineProps<{ icon: Component; label: string; keys?: string; pressed?: boolean }>()
</script>

<template>
  <button
    type="button"
    class="icon-button"
    :class="{ 'bg-selected text-text': pressed }"
    :title="keys ? `${label} (${keys})` : label"
    :aria-label="label"
    :aria-pressed="pressed"
  >
    <component :is="icon" :size="18" :stroke-width="1.75" aria-hidden="true" />
  </button>
</template>
