<script setup lang="ts">
/** How far long work has come; `share` from 0 to 1. */
defineProps<{ label: string; share: number }>()
</script>

<template>
  <span
    class="block h-1.5 overflow-hidden rounded-full bg-ground"
    role="progressbar"
    :aria-label="label"
    :aria-valuenow="Math.round(100 * share)"
    aria-valuemin="0"
    aria-valuemax="100"
  >
    <span class="block h-full bg-wisp" :style="{ width: `${100 * share}%` }" />
  </span>
</template>
