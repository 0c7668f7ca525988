<script setup lang="ts">
import { Bookmark } from '@lucide/vue'
import { say } from '#core/say.ts'
import IconButton from '../../ui/IconButton.vue'
import { useMarks } from './marks.ts'

/** The mark of this frame and its note. */
const marks = useMarks()
</script>

<template>
  <span class="flex items-center gap-1">
    <IconButton
      :icon="Bookmark"
      :label="marks.here ? say`Remove the mark` : say`Mark this frame`"
      keys="M"
      :pressed="marks.here !== null"
      @click="marks.toggle()"
    />
    <input
      v-if="marks.here"
      class="field w-40"
      :placeholder="say`Note on this frame`"
      :aria-label="say`Note on this frame`"
      maxlength="400"
      :value="marks.here.note"
      @change="marks.note(marks.here!, ($event.target as HTMLInputElement).value)"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
    />
  </span>
</template>
