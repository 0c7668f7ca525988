<script setup lang="ts">
import { computed } from 'vue'
import { drawingFile } from '#core/words/drawings.ts'
import type { Word } from '#core/words/words.ts'

/** The small drawing of one of our words. */
const props = defineProps<{ of: Word }>()
const source = computed(() => `data:image/svg+xml,${encodeURIComponent(drawingFile(props.of))}`)
</script>

<template>
  <img :src="source" alt="" width="120" height="60" class="shrink-0 rounded-[6px]" draggable="false" />
</template>
