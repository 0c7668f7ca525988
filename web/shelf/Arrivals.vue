<script setup lang="ts">
import { X } from '@lucide/vue'
import { useDropZone } from '@vueuse/core'
import { useTemplateRef } from 'vue'
import { projectFileEnding } from '#core/records/projectFile.ts'
import { say } from '#core/say.ts'
import DropHint from '../ui/DropHint.vue'
import IconButton from '../ui/IconButton.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { attend } from '../ui/troubles.ts'
import { useArrivals } from './arrivals.ts'

/** What is dropped on the page or chosen: project files on their way onto the shelf, and clips that a project is made for. */
const props = defineProps<{ page: HTMLElement | null }>()
const emit = defineEmits<{ arrived: []; clips: [files: readonly File[]] }>()

const picker = useTemplateRef<HTMLInputElement>('picker')
const {
  all,
  take: takeIn,
  dismiss,
} = useArrivals(
  () => emit('arrived'),
  (files) => emit('clips', files),
)
const take = (files: Iterable<File> | null) => attend(takeIn([...(files ?? [])]), say`bring it in`)
const { isOverDropZone } = useDropZone(() => props.page, { onDrop: (files) => take(files), multiple: true })
const clipPicker = useTemplateRef<HTMLInputElement>('clipPicker')
defineExpose({ pick: () => picker.value?.click(), pickClips: () => clipPicker.value?.click() })
</script>

<template>
  <input
    ref="picker"
    type="file"
    :accept="`.${projectFileEnding}`"
    multiple
    class="sr-only"
    tabindex="-1"
    :aria-label="say`Project files to open`"
    data-testid="project-picker"
    @change="(take(($event.target as HTMLInputElement).files), (($event.target as HTMLInputElement).value = ''))"
  />
  <input
    ref="clipPicker"
    type="file"
    multiple
    class="sr-only"
    tabindex="-1"
    :aria-label="say`Clips to make a project of`"
    data-testid="clip-picker"
    @change="(take(($event.target as HTMLInputElement).files), (($event.target as HTMLInputElement).value = ''))"
  />
  <ul v-if="all.length" class="mx-auto mb-6 flex max-w-6xl flex-col gap-2 px-8" :aria-label="say`Coming in`">
    <li v-for="one in all" :key="one.id" class="rounded-[9px] bg-raised px-3 py-2" :aria-label="one.name">
      <div class="flex items-center gap-3">
        <span class="min-w-0 flex-1 truncate">{{ one.name }}</span>
        <span v-if="!one.trouble" class="numbers text-second">{{
          one.share < 1 ? `${Math.floor(one.share * 100)}%` : say`is being read`
        }}</span>
        <IconButton
          :icon="X"
          :label="one.trouble ? say`Dismiss` : say`Cancel ${one.name}`"
          @click="one.trouble ? dismiss(one.id) : one.stop()"
        />
      </div>
      <p v-if="one.trouble" class="text-ember" role="alert">{{ one.trouble }}</p>
      <ProgressBar v-else :label="say`Bringing in ${one.name}`" :share="one.share" />
    </li>
  </ul>
  <DropHint v-if="isOverDropZone" />
</template>
