<script setup lang="ts">
import { PackageOpen } from '@lucide/vue'
import { defineAsyncComponent, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import Stage from '../editor/stage/Stage.vue'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
import { useChoice } from '../output/choice.ts'
import type { Out } from '#core/outgoing/forms.ts'
import { readyFilmWorkers } from '../frames/filmWorkers.ts'
import { useOutputs } from '../output/outputs.ts'
import QueueList from '../output/QueueList.vue'
import WhatToMake from '../output/WhatToMake.vue'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'

const TakeOutDialog = defineAsyncComponent(() => import('../shelf/TakeOutDialog.vue'))
const opened = useOpenShot()
const viewing = useViewing()
const outputs = useOutputs()
const choice = useChoice()
const project = useProject()
const leaving = ref(false)

const before = viewing.mode
// The picture shows what goes out.
const looks: Record<Out, ViewMode> = {
  ...{ over: 'result', light: 'result', plate: 'plate', matte: 'matte', cutout: 'cutout', clean: 'clean' },
  ...{ shapes: 'matte', tracks: 'overlay', sound: 'result', edit: 'result' },
}
watch(
  () => [choice.out, choice.chosenId, opened.shotId] as const,
  ([out, id]) => {
    viewing.mode = looks[out]
    viewing.whose = id
  },
  { immediate: true },
)
onMounted(() => {
  attend(outputs.load(), say`list the rendered files`)
  // Whoever comes here asks for a file before long.
  if (!outputs.busy) readyFilmWorkers()
})
onBeforeUnmount(() => {
  viewing.mode = before
  viewing.whose = null
})
</script>

<template>
  <main class="flex min-h-0 flex-1 bg-panel">
    <WhatToMake />
    <div class="flex min-w-0 flex-1 flex-col">
      <div class="flex h-[46%] shrink-0 border-b"><Stage /></div>
      <QueueList>
        <button type="button" class="button-quiet" @click="leaving = true">
          <PackageOpen :size="15" aria-hidden="true" /> {{ say`Take the whole project out` }}
        </button>
      </QueueList>
    </div>
    <TakeOutDialog v-if="leaving && project.project" :project="project.project" @close="leaving = false" />
  </main>
</template>
