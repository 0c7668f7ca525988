<script setup lang="ts">
import { computed } from 'vue'
import { type Word, wordName, words } from '#core/words/words.ts'
import WordTerm from './WordTerm.vue'

/** What a field is called, beside it; one of our words says what it means. */
const props = defineProps<{ label: string }>()
const word = computed(() => {
  const label = props.label.toLowerCase()
  return (Object.keys(words) as Word[]).find((word) => wordName(word).toLowerCase() === label) ?? null
})
</script>

<template>
  <span class="w-[88px] shrink-0 truncate text-second"
    ><WordTerm v-if="word" :of="word">{{ label }}</WordTerm
    ><template v-else>{{ label }}</template></span
  >
</template>
