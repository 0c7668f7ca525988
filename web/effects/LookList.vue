<script setup lang="ts">
import { Download, Trash2, Upload } from '@lucide/vue'
import { computed, ref, useTemplateRef } from 'vue'
import { toast } from 'vue-sonner'
import { type Look, shippedLooks, writeLooks } from '#core/looks/looks.ts'
import type { KeptLook } from '#core/records/types.ts'
import CastChip from '../editor/CastChip.vue'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import IconButton from '../ui/IconButton.vue'
import { saveJson, slugOf } from '../ui/saveFile.ts'
import { tell } from '../ui/troubles.ts'
import { useEffects } from './effects.ts'

/** Looks that came with the program and those that were kept in the project, to be put on a member. */
const emit = defineEmits<{ done: [] }>()
const project = useProject()
const opened = useOpenShot()
const effects = useEffects()
const file = useTemplateRef<HTMLInputElement>('file')

const kept = computed(() => project.all('look'))
const looks = computed(() => [
  ...kept.value.map((look) => ({ look: look as Look, preview: look.preview, own: look as KeptLook | null })),
  ...shippedLooks.map((look) => ({ look, preview: `/looks/${slugOf(look.name)}.jpg`, own: null })),
])
/** Members that a look can be put on. */
const subjects = (look: Look) =>
  opened.members.filter(
    (member) =>
      !look.needs.length || project.childrenOf('part', member.id).some((part) => look.needs.includes(part.kind)),
  )
function put(look: Look, member: string): void {
  effects.putLook(look, member)
  emit('done')
}

const name = ref('')
const about = ref('')
const withCards = computed(() =>
  opened.members.filter((member) =>
    opened.effects.some((one) => one.target === member.id || one.region.of.includes(member.id)),
  ),
)
const subject = computed(() => withCards.value.find((one) => one.id === about.value) ?? withCards.value[0] ?? null)
function keep(): void {
  if (!subject.value || !name.value.trim()) return
  effects.keepLook(name.value.trim(), subject.value.id, pictureOfStage())
  name.value = ''
}
/** What the stage shows, as a small JPEG. */
function pictureOfStage(): string {
  const stage = document.querySelector<HTMLCanvasElement>('[data-testid=stage] > canvas')
  if (!stage?.width) return ''
  const small = Object.assign(document.createElement('canvas'), { width: 224, height: 126 })
  small.getContext('2d')!.drawImage(stage, 0, 0, small.width, small.height)
  return small.toDataURL('image/jpeg', 0.75)
}
function save(looks: Look[], to: string): void {
  // Only what a look is: what the project keeps beside it stays here.
  const plain = looks.map(({ name, about, needs, cards }) => ({ name, about, needs, cards }))
  saveJson(writeLooks(plain), `${slugOf(to)}.json`)
}
async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const [chosen] = input.files ?? []
  input.value = ''
  if (!chosen) return
  try {
    const count = effects.takeLooks(await chosen.text())
    toast(count === 1 ? 'One look was brought in.' : `${count} looks were brought in.`)
  } catch (error) {
    tell(error, 'read the looks')
  }
}
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <ul class="scroll-thin grid min-h-0 flex-1 auto-rows-min grid-cols-3 gap-2 overflow-y-auto p-3" aria-label="Looks">
      <li v-for="{ look, preview, own } in looks" :key="own?.id ?? look.name" class="rounded-[8px] bg-[#222] p-2">
        <img
          v-if="preview"
          :src="preview"
          alt=""
          class="mb-1.5 aspect-video w-full rounded-[5px] bg-ground object-cover"
          loading="lazy"
        />
        <div class="flex items-start gap-1">
          <span class="min-w-0 flex-1">
            <strong class="block truncate font-semibold">{{ look.name }}</strong>
            <span class="block text-s leading-4 text-second">{{ look.about }}</span>
          </span>
          <template v-if="own">
            <IconButton
              :icon="Download"
              :label="`Export ${look.name}`"
              class="!size-6"
              @click="save([look], look.name)"
            />
            <IconButton
              :icon="Trash2"
              :label="`Delete ${look.name}`"
              class="!size-6"
              @click="effects.removeLook(own)"
            />
          </template>
        </div>
        <p class="mt-1.5 flex flex-wrap items-center gap-1 text-s text-third">
          <template v-if="subjects(look).length">
            put on
            <button
              v-for="member in subjects(look)"
              :key="member.id"
              type="button"
              class="rounded-[5px]"
              :aria-label="`Put ${look.name} on ${member.name}`"
              @click="put(look, member.id)"
            >
              <CastChip :name="member.name" :colour="member.colour" />
            </button>
          </template>
          <span v-else class="text-ember">{{
            look.needs.includes('rod') ? 'needs a traced rod' : 'needs somebody traced'
          }}</span>
        </p>
      </li>
    </ul>
    <footer class="flex h-12 shrink-0 items-center gap-2 border-t px-3">
      <template v-if="subject">
        <input
          v-model="name"
          class="field h-8 w-40"
          maxlength="80"
          placeholder="name of a look"
          aria-label="Name of the new look"
          @keydown.enter="keep"
        />
        <span class="text-second">of</span>
        <select
          :value="subject.id"
          class="field h-8"
          aria-label="Whose cards"
          @change="about = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="one in withCards" :key="one.id" :value="one.id">{{ one.name }}</option>
        </select>
        <button type="button" class="button-quiet" :disabled="!name.trim()" @click="keep">Keep</button>
      </template>
      <span v-else class="text-third">Cards that are about somebody can be kept as a look.</span>
      <span class="flex-1" />
      <button v-if="kept.length" type="button" class="button-quiet" @click="save(kept, 'looks')">
        <Download :size="15" aria-hidden="true" /> Export all
      </button>
      <button type="button" class="button-quiet" @click="file?.click()">
        <Upload :size="15" aria-hidden="true" /> Bring in
      </button>
      <input
        ref="file"
        type="file"
        accept=".json,application/json"
        class="hidden"
        aria-label="File of looks"
        @change="take"
      />
    </footer>
  </div>
</template>
