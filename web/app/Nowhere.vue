<script setup lang="ts">
import { say } from '#core/say.ts'

defineProps<{ sentence?: string }>()
</script>

<template>
  <main class="flex h-full flex-col items-center justify-center gap-4">
    <p class="text-l" role="alert">{{ sentence ?? say`There is nothing under this address.` }}</p>
    <RouterLink to="/" class="button">{{ say`To the shelf` }}</RouterLink>
  </main>
</template>
