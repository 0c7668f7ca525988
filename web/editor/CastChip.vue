<script setup lang="ts">
import { castColour } from './castColours.ts'

/** A cast member in its own colour, as it appears in a sentence. */
defineProps<{ name: string; colour: number }>()
</script>

<template>
  <span class="rounded-[5px] px-1.5 py-px font-semibold text-[#141414]" :style="{ background: castColour(colour) }">{{
    name
  }}</span>
</template>
