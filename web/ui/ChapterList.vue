<script setup lang="ts">
/** Chapters beside what is in them; none is the chosen one while something is sought. */
defineProps<{ label: string; chapters: readonly string[] }>()
const chapter = defineModel<string>({ required: true })
const sought = defineModel<string>('sought', { required: true })
function choose(name: string): void {
  chapter.value = name
  sought.value = ''
}
</script>

<template>
  <nav class="flex w-44 shrink-0 flex-col gap-0.5 border-r p-2" :aria-label="label">
    <button
      v-for="name in chapters"
      :key="name"
      type="button"
      class="button-quiet !justify-start"
      :class="{ '!bg-selected !text-text': !sought && chapter === name }"
      :aria-pressed="!sought && chapter === name"
      @click="choose(name)"
    >
      {{ name }}
    </button>
  </nav>
</template>
