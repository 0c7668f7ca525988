<script setup lang="ts">
defineProps<{ sentence?: string }>()
</script>

<template>
  <main class="flex h-full flex-col items-center justify-center gap-4">
    <p class="text-l" role="alert">{{ sentence ?? 'There is nothing under this address.' }}</p>
    <RouterLink to="/" class="button">To the shelf</RouterLink>
  </main>
</template>
