<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { Download, X } from '@lucide/vue'
import { computed, onMounted, ref } from 'vue'
import { fileSize } from '#core/formats/fileSize.ts'
import type { ClipHere } from '#core/records/exchange.ts'
import { projectFileEnding } from '#core/records/projectFile.ts'
import { say } from '#core/say.ts'
import { api } from '../project/api.ts'
import IconButton from '../ui/IconButton.vue'
import RadioCards from '../ui/RadioCards.vue'
import { attend } from '../ui/troubles.ts'

/** A project as one file, to open on another machine or to put away. */
const props = defineProps<{ project: { id: string; name: string } }>()
const emit = defineEmits<{ close: [] }>()

const clips = ref<ClipHere[] | null>(null)
const inside = ref<'yes' | 'no'>('yes')
const bytes = computed(() => (clips.value ?? []).reduce((sum, one) => sum + (one.here ? one.bytes : 0), 0))
const missing = computed(() => (clips.value ?? []).filter((one) => !one.here))
const options = computed(() => [
  {
    value: 'yes' as const,
    label: say`With its clips, ${fileSize(bytes.value)}`,
    about: say`opens anywhere as it is here`,
  },
  {
    value: 'no' as const,
    label: say`Without clips`,
    about: say`small: tracing, effects and sound; clips are dropped in there`,
  },
])
onMounted(() =>
  attend(
    api.clips(props.project.id).then((all) => (clips.value = all)),
    say`look at the clips`,
  ),
)
</script>

<template>
  <Dialog open class="fixed inset-0 z-20" @close="emit('close')">
    <div class="fixed inset-0 flex items-center justify-center bg-black/60 p-6">
      <DialogPanel class="flex w-full max-w-md flex-col gap-4 rounded-[9px] bg-panel p-5">
        <header class="flex items-center">
          <DialogTitle class="flex-1 text-l font-semibold">{{ say`Take out ${project.name}` }}</DialogTitle>
          <IconButton :icon="X" :label="say`Close`" @click="emit('close')" />
        </header>
        <p class="text-second">
          {{ say`One file,` }} <span class="text-text">{{ project.name }}.{{ projectFileEnding }}</span
          >{{
            say`: a zip with everything in JSON and the clips as they came in. It comes back by being dropped on a shelf.`
          }}
        </p>
        <RadioCards v-model="inside" :label="say`What is inside`" :options="options" />
        <p v-if="missing.length" class="text-ember" role="status">
          {{ say`Not on this machine, so not in it: ${missing.map((one) => one.name).join(', ')}.` }}
        </p>
        <a
          class="button-main h-9 self-end"
          :href="api.projectFileAddress(project.id, inside === 'yes')"
          download
          :aria-disabled="clips === null"
          @click="emit('close')"
          ><Download :size="15" aria-hidden="true" /> {{ say`Take it out` }}</a
        >
      </DialogPanel>
    </div>
  </Dialog>
</template>
