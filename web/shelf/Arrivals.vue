<script setup lang="ts">
import { X } from '@lucide/vue'
import { useDropZone } from '@vueuse/core'
import { useTemplateRef } from 'vue'
import { projectFileEnding } from '#core/records/projectFile.ts'
import DropHint from '../ui/DropHint.vue'
import IconButton from '../ui/IconButton.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { attend } from '../ui/troubles.ts'
import { useArrivals } from './arrivals.ts'

/** Project files that are dropped on the page or chosen, on their way onto the shelf. */
const props = defineProps<{ page: HTMLElement | null }>()
const emit = defineEmits<{ arrived: [] }>()

const picker = useTemplateRef<HTMLInputElement>('picker')
const { all, take: takeIn, dismiss } = useArrivals(() => emit('arrived'))
const take = (files: Iterable<File> | null) => attend(takeIn([...(files ?? [])]), 'bring the project in')
const { isOverDropZone } = useDropZone(() => props.page, { onDrop: (files) => take(files), multiple: true })
defineExpose({ pick: () => picker.value?.click() })
</script>

<template>
  <input
    ref="picker"
    type="file"
    :accept="`.${projectFileEnding}`"
    multiple
    class="sr-only"
    aria-label="Project files to open"
    data-testid="project-picker"
    @change="(take(($event.target as HTMLInputElement).files), (($event.target as HTMLInputElement).value = ''))"
  />
  <ul v-if="all.length" class="mx-auto mb-6 flex max-w-6xl flex-col gap-2 px-8" aria-label="Coming in">
    <li v-for="one in all" :key="one.id" class="rounded-[9px] bg-raised px-3 py-2" :aria-label="one.name">
      <div class="flex items-center gap-3">
        <span class="min-w-0 flex-1 truncate">{{ one.name }}</span>
        <span v-if="!one.trouble" class="numbers text-second">{{
          one.share < 1 ? `${Math.floor(one.share * 100)}%` : 'is being read'
        }}</span>
        <IconButton
          :icon="X"
          :label="one.trouble ? 'Dismiss' : `Cancel ${one.name}`"
          @click="one.trouble ? dismiss(one.id) : one.stop()"
        />
      </div>
      <p v-if="one.trouble" class="text-ember" role="alert">{{ one.trouble }}</p>
      <ProgressBar v-else :label="`Bringing in ${one.name}`" :share="one.share" />
    </li>
  </ul>
  <DropHint v-if="isOverDropZone" />
</template>
