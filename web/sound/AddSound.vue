<script setup lang="ts">
import { AudioLines } from '@lucide/vue'
import { computed, ref } from 'vue'
import { soughtVoices } from '#core/sound/sought.ts'
import { soughtIn } from '#core/words/sought.ts'
import { decimals, said, say } from '#core/say.ts'
import { useProject } from '../project/project.ts'
import SearchDialog from '../ui/SearchDialog.vue'
import { useSounds } from './sounds.ts'

/** Everything that can be heard in a shot: voices by what they are about, and the sounds of the project. */
const open = defineModel<boolean>({ required: true })
const project = useProject()
const sounds = useSounds()
const sought = ref('')
/** The best answer first once something is sought, else by what they are about. */
const groups = computed(() => {
  const found = soughtVoices(sought.value).filter(({ group }) => group !== 'Files')
  return [...new Set(found.map(({ group }) => group))].map((group) => ({
    group,
    list: found.filter((kind) => kind.group === group),
  }))
})
const files = computed(() =>
  soughtIn(
    sought.value,
    project.media.filter((one) => one.audio),
    ({ name }) => ({ name }),
  ),
)
function takeFirst(): void {
  const best = groups.value[0]?.list[0]
  const [file] = files.value
  if (best) choose(() => sounds.add(best.kind))
  else if (file) choose(() => sounds.add('file', [file]))
}
function choose(work: () => void): void {
  open.value = false
  work()
}
</script>

<template>
  <SearchDialog
    v-model="open"
    v-model:sought="sought"
    :title="say`Add a sound`"
    :example="say`hum, step, wind …`"
    :search-label="say`Search sounds`"
    @first="takeFirst"
  >
    <div class="scroll-thin min-h-0 flex-1 overflow-y-auto px-4 pb-4">
      <section v-for="{ group, list } in groups" :key="group" :aria-label="said(group)">
        <h3 class="heading mt-3 mb-1.5">{{ said(group) }}</h3>
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
      <section :aria-label="say`Files`">
        <h3 class="heading mt-3 mb-1.5">{{ say`Sounds of the project` }}</h3>
        <ul v-if="files.length" class="grid grid-cols-2 gap-2">
          <li v-for="media in files" :key="media.id">
            <button
              type="button"
              class="flex w-full items-center gap-2 rounded-[8px] bg-[#222] p-2.5 text-left hover:bg-raised"
              @click="choose(() => sounds.add('file', [media]))"
            >
              <AudioLines :size="15" class="shrink-0 text-third" aria-hidden="true" />
              <span class="min-w-0 flex-1 truncate">{{ media.name }}</span>
              <span class="numbers text-s text-third">{{ decimals(media.seconds, 1) }} s</span>
            </button>
          </li>
        </ul>
        <p v-else-if="sought" class="text-second">{{ say`Nothing is called so. Try another word.` }}</p>
        <p v-else class="text-second">
          {{ say`None yet. Drop a WAV, MP3, Ogg, Opus, FLAC or M4A onto this step, or bring it in at Footage.` }}
        </p>
      </section>
    </div>
  </SearchDialog>
</template>
