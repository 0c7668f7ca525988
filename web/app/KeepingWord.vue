<script setup lang="ts">
import { computed } from 'vue'
import { say } from '#core/say.ts'
import { useProject } from '../project/project.ts'

/** How well the changes are kept. By itself: it changes several times with every change, and the header around it does not. */
const project = useProject()
const keeping = computed(() => {
  const { keeping: now, unsent } = project
  if (now.state === 'kept')
    return { text: say`All changes kept`, warn: false, title: say`Everything is on the server.` }
  if (now.state === 'sending') return { text: say`Keeping…`, warn: false, title: say`${unsent} to send` }
  return {
    text: say`${unsent} ${unsent === 1 ? say`change waits` : say`changes wait`} here`,
    warn: true,
    title: now.why,
  }
})
</script>

<template>
  <span
    class="mr-2 truncate"
    :class="keeping.warn ? 'text-ember' : 'text-second max-[860px]:sr-only'"
    :title="keeping.title"
    role="status"
    data-testid="keeping"
    >{{ keeping.text }}</span
  >
</template>
