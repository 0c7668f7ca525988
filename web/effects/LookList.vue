<script setup lang="ts">
import { BookmarkPlus, Download, Trash2, Upload } from '@lucide/vue'
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { toast } from 'vue-sonner'
import { isAboutSomebody, type Look, shippedLooks, writeLooks } from '#core/looks/looks.ts'
import type { KeptLook } from '#core/records/types.ts'
import { said, say } from '#core/say.ts'
import CastChip from '../editor/CastChip.vue'
import { useOpenShot } from '../editor/openShot.ts'
import { useProject } from '../project/project.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import { saveJson, slugOf } from '../ui/saveFile.ts'
import { attend, tell } from '../ui/troubles.ts'
import { useEffects } from './effects.ts'
import { useOwnLooks } from './ownLooks.ts'

/** Looks that came with the program and those that were kept, to be put on a member or on the picture. */
const emit = defineEmits<{ done: [] }>()
const project = useProject()
const opened = useOpenShot()
const effects = useEffects()
const own = useOwnLooks()
const file = useTemplateRef<HTMLInputElement>('file')
onMounted(() => {
  own.deleted = null
  attend(own.load(), say`fetch your looks`)
})

interface Offered {
  look: Look
  preview: string
  /** Where it is kept, if it did not come with the program: for every project, or in this one only. */
  kept: KeptLook | null
  here: boolean
}
const looks = computed((): Offered[] => {
  const offered = (look: KeptLook, here: boolean) => ({ look, preview: look.preview, kept: look, here })
  const elsewhere = new Set(own.looks.map(({ id }) => id))
  return [
    ...own.looks.map((look) => offered(look, false)),
    // Projects kept their looks to themselves once.
    ...project.all('look').flatMap((look) => (elsewhere.has(look.id) ? [] : [offered(look, true)])),
    ...shippedLooks.map((look) => ({
      look: { ...look, name: said(look.name), about: said(look.about) },
      preview: `/looks/${slugOf(look.name)}.jpg`,
      ...{ kept: null, here: false },
    })),
  ]
})
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
function remove({ kept, here }: Offered): void {
  if (!kept) return
  if (here) effects.removeLook(kept)
  else attend(own.remove(kept), say`delete the look`)
}

const name = ref('')
const about = ref<string | null>(null)
/** Whose cards can be kept: of somebody, and those of the whole picture. */
const subjectsOfCards = computed(() =>
  [
    ...opened.members.map(({ id, name }) => ({ value: id, label: name })),
    { value: '', label: say`the whole picture` },
  ].filter(({ value }) => opened.effects.some((one) => effects.isAbout(one, value))),
)
const chosen = computed({
  get: () => subjectsOfCards.value.find(({ value }) => value === about.value)?.value ?? subjectsOfCards.value[0]?.value,
  set: (value) => (about.value = value ?? null),
})
async function keep(): Promise<void> {
  const called = name.value.trim()
  if (chosen.value === undefined || !called) return
  const kept = await own.keep(effects.lookOf(called, chosen.value, pictureOfStage()))
  if (kept && name.value.trim() === called) name.value = ''
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
    const count = await own.take(await chosen.text())
    toast(count === 1 ? say`One look was brought in.` : say`${count} looks were brought in.`)
  } catch (error) {
    tell(error, say`read the looks`)
  }
}
</script>

<template>
  <div class="flex min-h-0 flex-1 flex-col">
    <ul
      class="scroll-thin grid min-h-0 flex-1 auto-rows-min grid-cols-3 gap-2 overflow-y-auto p-3"
      :aria-label="say`Looks`"
    >
      <li v-for="one in looks" :key="one.kept?.id ?? one.look.name" class="rounded-[8px] bg-[#222] p-2">
        <img
          v-if="one.preview"
          :src="one.preview"
          alt=""
          class="mb-1.5 aspect-video w-full rounded-[5px] bg-ground object-cover"
          loading="lazy"
        />
        <div class="flex items-start gap-1">
          <span class="min-w-0 flex-1">
            <strong class="block truncate font-semibold">{{ one.look.name }}</strong>
            <span class="block text-s leading-4 text-second"
              >{{ one.look.about }}<template v-if="one.here">{{ say`, in this project only` }}</template></span
            >
          </span>
          <template v-if="one.kept">
            <IconButton
              v-if="one.here"
              :icon="BookmarkPlus"
              :label="say`Keep ${one.look.name} for all projects`"
              class="!size-6"
              @click="attend(own.keep(one.kept), say`keep the look`)"
            />
            <IconButton
              :icon="Download"
              :label="say`Export ${one.look.name}`"
              class="!size-6"
              @click="save([one.look], one.look.name)"
            />
            <IconButton :icon="Trash2" :label="say`Delete ${one.look.name}`" class="!size-6" @click="remove(one)" />
          </template>
        </div>
        <p class="mt-1.5 flex flex-wrap items-center gap-1 text-s text-third">
          <button
            v-if="!isAboutSomebody(one.look)"
            type="button"
            class="button-quiet !h-6 !px-1.5"
            :aria-label="say`Put ${one.look.name} on the picture`"
            @click="put(one.look, '')"
          >
            {{ say`put on the picture` }}
          </button>
          <template v-else-if="subjects(one.look).length">
            {{ say`put on` }}
            <button
              v-for="member in subjects(one.look)"
              :key="member.id"
              type="button"
              class="rounded-[5px]"
              :aria-label="say`Put ${one.look.name} on ${member.name}`"
              @click="put(one.look, member.id)"
            >
              <CastChip :name="member.name" :colour="member.colour" />
            </button>
          </template>
          <span v-else class="text-ember">{{
            one.look.needs.includes('rod') ? say`needs a traced rod` : say`needs somebody traced`
          }}</span>
        </p>
      </li>
    </ul>
    <p v-if="own.deleted" class="flex h-9 shrink-0 items-center gap-2 border-t px-3" role="status">
      {{ say`${own.deleted.name} is deleted.` }}
      <button type="button" class="button-quiet" @click="attend(own.bringBack(), say`keep the look`)">
        {{ say`Undo` }}
      </button>
    </p>
    <footer class="flex h-12 shrink-0 items-center gap-2 border-t px-3">
      <template v-if="chosen !== undefined">
        <input
          v-model="name"
          class="field h-8 w-40"
          maxlength="80"
          :placeholder="say`name of a look`"
          :aria-label="say`Name of the new look`"
          @keydown.enter="attend(keep(), say`keep the look`)"
        />
        <span class="text-second">{{ say`of` }}</span>
        <ChoiceField v-model="chosen" :label="say`Whose cards`" :options="subjectsOfCards" bare up />
        <button
          type="button"
          class="button-quiet"
          :disabled="!name.trim()"
          :title="say`Keeps these cards as a look that every project offers`"
          @click="attend(keep(), say`keep the look`)"
        >
          {{ say`Keep` }}
        </button>
      </template>
      <span v-else class="text-third">{{ say`Cards of this shot can be kept as a look: it has none yet.` }}</span>
      <span class="flex-1" />
      <button v-if="own.looks.length" type="button" class="button-quiet" @click="save([...own.looks], 'looks')">
        <Download :size="15" aria-hidden="true" /> {{ say`Export all` }}
      </button>
      <button type="button" class="button-quiet" @click="file?.click()">
        <Upload :size="15" aria-hidden="true" /> {{ say`Bring in` }}
      </button>
      <input
        ref="file"
        type="file"
        accept=".json,application/json"
        class="hidden"
        :aria-label="say`File of looks`"
        @change="take"
      />
    </footer>
  </div>
</template>
