<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { X } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import type { MatteReading } from '#core/incoming/matte.ts'
import { still } from '#core/parameters/builders.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import NumberField from '../ui/NumberField.vue'
import ProgressBar from '../ui/ProgressBar.vue'
import { sentenceOf } from '../ui/troubles.ts'
import { useMattes } from './mattes.ts'

/** Which clip of the project is a matte of this shot, what of it, and from which frame on. */
const mattes = useMattes()
const project = useProject()
const opened = useOpenShot()

const clips = computed(() =>
  project.clips.flatMap(({ id, name }) => (id === opened.media?.id ? [] : [{ value: id, label: name }])),
)
const chosen = ref('')
const media = computed(() => project.get('media', chosen.value) ?? null)
/** How the clip is probably meant, once one has looked; what is chosen by hand goes before it. */
const usual = ref<MatteReading | null>(null)
const byHand = ref<MatteReading | null>(null)
const reading = computed({
  get: () => byHand.value ?? usual.value ?? 'white',
  set: (value) => (byHand.value = value),
})
const at = ref(0)
const trouble = ref('')

watch(
  () => mattes.open,
  (open) => open && !media.value && (chosen.value = clips.value.at(-1)?.value ?? ''),
)
watch(media, (clip) => {
  usual.value = null
  byHand.value = null
  trouble.value = ''
  if (!clip) return
  at.value = mattes.placeOf(clip)
  mattes.readingOf(clip).then(
    (found) => {
      if (media.value?.id === clip.id) usual.value = found
    },
    (error: unknown) => (trouble.value = sentenceOf(error, say`look at the clip`)),
  )
})

const readings = computed(() =>
  (
    [
      ['white', say`what is white`],
      ['black', say`what is black`],
      ['opaque', say`what is opaque`],
    ] as const
  ).map(([value, label]) => ({ value, label: value === usual.value ? say`${label} (fits)` : label })),
)
const first = computed(() =>
  still(
    say`Begins on`,
    'frames',
    [1 - (media.value?.frames ?? 1), opened.length - 1, 1],
    0,
    say`The frame of this shot on which the first picture of the matte lies.`,
  ),
)

function take(): void {
  const clip = media.value
  if (!clip) return
  trouble.value = ''
  mattes.take(clip, reading.value, at.value).catch((error: unknown) => {
    trouble.value = sentenceOf(error, say`take the matte in`)
  })
}
</script>

<template>
  <Dialog :open="mattes.open" class="fixed inset-0 z-20" @close="mattes.close()">
    <div class="absolute inset-0 bg-black/50" aria-hidden="true" />
    <div class="absolute inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex w-[460px] max-w-full flex-col rounded-[10px] border bg-panel">
        <header class="flex h-12 shrink-0 items-center border-b pr-2 pl-4">
          <DialogTitle class="flex-1 text-l font-semibold">{{ say`A matte from a clip` }}</DialogTitle>
          <IconButton :icon="X" :label="say`Close`" @click="mattes.close()" />
        </header>
        <div class="flex flex-col gap-3 p-4">
          <p v-if="clips.length === 0" class="text-second">
            {{
              say`Bring the matte in on Footage first: a clip or a sequence of pictures, black and white or with alpha.`
            }}
          </p>
          <template v-else>
            <ChoiceField v-model="chosen" :label="say`Clip`" :options="clips" />
            <ChoiceField v-model="reading" :label="say`The matte is`" :options="readings" />
            <NumberField v-model="at" :of="first" />
          </template>
          <p v-if="trouble" class="text-ember" role="alert">{{ trouble }}</p>
          <div class="flex h-9 items-center gap-3">
            <template v-if="mattes.taking">
              <ProgressBar
                class="flex-1"
                :label="say`Taking ${mattes.taking.media.name} in`"
                :share="mattes.taking.share"
              />
              <span class="numbers text-second">{{ Math.round(100 * mattes.taking.share) }}%</span>
              <button type="button" class="button" @click="mattes.stop()">{{ say`Stop` }}</button>
            </template>
            <button
              v-else-if="media"
              type="button"
              class="button-main ml-auto"
              :disabled="!usual && !byHand"
              @click="take"
            >
              {{ say`Take it in` }}
            </button>
          </div>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
