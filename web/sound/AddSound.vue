<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { AudioLines, Search, X } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { soundKinds } from '#core/sound/catalogue.ts'
import type { VoiceKind } from '#core/sound/voice.ts'
import { useProject } from '../project/project.ts'
import IconButton from '../ui/IconButton.vue'
import { useSounds } from './sounds.ts'

/** Everything that can be heard in a shot: voices by what they are about, and the sounds of the project. */
const open = defineModel<boolean>({ required: true })
const project = useProject()
const sounds = useSounds()
const kinds: VoiceKind[] = (Object.values(soundKinds) as VoiceKind[]).filter(({ group }) => group !== 'Files')
const sought = ref('')
const wanted = (text: string) => text.toLowerCase().includes(sought.value.trim().toLowerCase())
const groups = computed(() =>
  [...new Set(kinds.map(({ group }) => group))].flatMap((group) => {
    const list = kinds.filter((kind) => kind.group === group && wanted(`${kind.title} ${kind.summary}`))
    return list.length ? [{ group, list }] : []
  }),
)
const files = computed(() => project.media.filter((one) => one.audio && wanted(one.name)))
watch(open, (now) => {
  if (now) sought.value = ''
})
function choose(work: () => void): void {
  open.value = false
  work()
}
</script>

<template>
  <Dialog :open="open" class="fixed inset-0 z-20" @close="open = false">
    <div class="absolute inset-0 bg-black/50" aria-hidden="true" />
    <div class="absolute inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex h-[560px] w-[860px] max-w-full flex-col rounded-[10px] border bg-panel">
        <header class="flex h-12 shrink-0 items-center gap-3 border-b pr-2 pl-4">
          <DialogTitle class="text-l font-semibold">Add a sound</DialogTitle>
          <label class="field ml-auto flex h-8 w-64 items-center gap-2 !px-2">
            <Search :size="15" class="text-third" aria-hidden="true" />
            <input
              v-model="sought"
              class="min-w-0 flex-1 bg-transparent outline-none"
              type="search"
              placeholder="hum, step, wind …"
              aria-label="Search sounds"
            />
          </label>
          <IconButton :icon="X" label="Close" @click="open = false" />
        </header>
        <div class="scroll-thin min-h-0 flex-1 overflow-y-auto px-4 pb-4">
          <section v-for="{ group, list } in groups" :key="group" :aria-label="group">
            <h3 class="heading mt-3 mb-1.5">{{ group }}</h3>
            <ul class="grid grid-cols-2 gap-2">
              <li v-for="kind in list" :key="kind.kind">
                <button
                  type="button"
                  class="h-full w-full rounded-[8px] bg-[#222] p-2.5 text-left hover:bg-raised"
                  @click="choose(() => sounds.add(kind.kind))"
                >
                  <strong class="block font-semibold">{{ kind.title }}</strong>
                  <span class="block text-s leading-4 text-second">{{ kind.summary }}</span>
                </button>
              </li>
            </ul>
          </section>
          <section aria-label="Files">
            <h3 class="heading mt-3 mb-1.5">Sounds of the project</h3>
            <ul v-if="files.length" class="grid grid-cols-2 gap-2">
              <li v-for="media in files" :key="media.id">
                <button
                  type="button"
                  class="flex w-full items-center gap-2 rounded-[8px] bg-[#222] p-2.5 text-left hover:bg-raised"
                  @click="choose(() => sounds.add('file', [media]))"
                >
                  <AudioLines :size="15" class="shrink-0 text-third" aria-hidden="true" />
                  <span class="min-w-0 flex-1 truncate">{{ media.name }}</span>
                  <span class="numbers text-s text-third">{{ media.seconds.toFixed(1) }} s</span>
                </button>
              </li>
            </ul>
            <p v-else-if="sought" class="text-second">Nothing is called so. Try another word.</p>
            <p v-else class="text-second">
              None yet. Drop a WAV, MP3, Ogg, Opus, FLAC or M4A onto this step, or bring it in at Footage.
            </p>
          </section>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
