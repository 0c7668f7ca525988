<script setup lang="ts">
import {
  ArchiveRestore,
  CircleHelp,
  Copy,
  Ellipsis,
  FolderInput,
  Languages,
  PackageOpen,
  Pencil,
  Plus,
  Trash2,
} from '@lucide/vue'
import { formatDistanceToNow } from 'date-fns'
import { defineAsyncComponent, onMounted, ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { toast } from 'vue-sonner'
import type { ProjectSummary } from '#core/records/exchange.ts'
import { decimals, say } from '#core/say.ts'
import { heard } from '../language/heard.ts'
import { chooseLanguage, inLocale, languageName, languageNames, languages } from '../language/language.ts'
import { helpShown } from '../editor/actions.ts'
import { guiding } from '../editor/guide.ts'
import { api, ServerError } from '../project/api.ts'
import { handOver } from '../project/handedOver.ts'
import AppMark from '../ui/AppMark.vue'
import EditableName from '../ui/EditableName.vue'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import { attend, sentenceOf, tell } from '../ui/troubles.ts'

// Not on the first page: it is seldom asked for.
const KeepingDialog = defineAsyncComponent(() => import('../shelf/KeepingDialog.vue'))
const Arrivals = defineAsyncComponent(() => import('../shelf/Arrivals.vue'))
const Beginning = defineAsyncComponent(() => import('../shelf/Beginning.vue'))
const HelpDialog = defineAsyncComponent(() => import('../ui/HelpDialog.vue'))
const TakeOutDialog = defineAsyncComponent(() => import('../shelf/TakeOutDialog.vue'))
const router = useRouter()
const projects = ref<ProjectSummary[] | null>(null)
const trouble = ref('')
/** The ways on that the server offers where it could not open its data. */
const choices = ref<{ id: string; label: string }[]>([])
const keeping = ref(false)
const leaving = ref<ProjectSummary | null>(null)
const page = useTemplateRef<HTMLElement>('page')
const arrivals = useTemplateRef<{ pick: () => void; pickClips: () => void }>('arrivals')
const names = new Map<string, InstanceType<typeof EditableName>>()
const remember = (id: string) => (field: unknown) =>
  void (field && names.set(id, field as InstanceType<typeof EditableName>))

async function load(): Promise<void> {
  try {
    projects.value = await api.projects()
    trouble.value = ''
    choices.value = []
  } catch (error) {
    trouble.value = sentenceOf(error, say`show the projects`)
    const { body } = error instanceof ServerError ? error : { body: null }
    choices.value = (body as { choices?: { id: string; label: string }[] } | null)?.choices ?? []
  }
}
/** Takes one of the ways on where the server could not open its data. */
async function choose(id: string): Promise<void> {
  try {
    await api.start(id)
  } catch (error) {
    tell(error, say`go on`)
  }
  await load()
}
/** Runs something on the server and shows the shelf as it is then. */
async function act(work: () => Promise<unknown>): Promise<void> {
  try {
    await work()
  } catch (error) {
    tell(error, say`change the shelf`)
  }
  await load()
}

/** A project of that name, or of that name and a number; clips that are given come in there. */
async function create(wanted = say`New project`, clips: readonly File[] = []): Promise<void> {
  const taken = new Set(projects.value?.map((project) => project.name))
  let name = wanted
  for (let i = 2; taken.has(name); i++) name = `${wanted} ${i}`
  try {
    const { id } = await api.createProject(name)
    handOver(id, clips)
    await router.push(`/project/${id}/footage`)
  } catch (error) {
    tell(error, say`make a project`)
  }
}
const createFor = (clips: readonly File[]) => {
  // Who begins with a clip on an empty shelf is led on.
  if (projects.value?.length === 0) guiding.value = true
  return create(
    clips[0]!.name
      .replace(/\.[^.]+$/, '')
      .trim()
      .slice(0, 80) || undefined,
    clips,
  )
}

const opening = ref(false)
async function openExample(): Promise<void> {
  if (opening.value) return
  opening.value = true
  const first = projects.value?.length === 0
  try {
    const { id } = await api.bringInExample()
    if (first) guiding.value = true
    // Where it burns already.
    await router.push(`/project/${id}/effects`)
  } catch (error) {
    tell(error, say`open the example`)
  } finally {
    opening.value = false
  }
}
const rename = (project: ProjectSummary, name: string) =>
  act(async () => {
    const { revision, records } = await api.openProject(project.id)
    const record = records.find((one) => one.type === 'project')
    if (record)
      await api.commit(project.id, {
        id: crypto.randomUUID(),
        base: revision,
        label: say`Rename the project`,
        diff: { put: [{ ...record, name }], remove: [] },
      })
  })
async function remove(project: ProjectSummary): Promise<void> {
  await act(() => api.deleteProject(project.id))
  toast(say`"${project.name}" is deleted.`, {
    duration: 15_000,
    action: {
      label: say`Undo`,
      onClick: () =>
        attend(
          act(() => api.restoreProject(project.id)),
          say`bring the project back`,
        ),
    },
  })
}
const menu = (project: ProjectSummary): MenuEntry[] => [
  { label: say`Rename`, icon: Pencil, run: () => void names.get(project.id)?.edit() },
  {
    label: say`Duplicate`,
    icon: Copy,
    run: () =>
      attend(
        act(() => api.duplicateProject(project.id)),
        say`duplicate the project`,
      ),
  },
  { label: say`Take out as a file`, icon: PackageOpen, run: () => void (leaving.value = project) },
  { label: say`Delete`, icon: Trash2, danger: true, run: () => attend(remove(project), say`delete the project`) },
]
const tongues: MenuEntry[] = languageNames.map((name) => ({
  label: languages[name].name,
  disabled: name === languageName,
  run: () => chooseLanguage(name),
}))
const facts = (project: ProjectSummary): string => {
  if (project.damaged) return say`Damaged: bring it back from a backup`
  if (project.shots === 0) return say`No footage yet`
  const shots = project.shots === 1 ? say`1 shot` : say`${project.shots} shots`
  return `${shots}, ${decimals(project.seconds, 1)} s`
}
onMounted(load)
</script>

<template>
  <main ref="page" class="scroll-thin relative h-full overflow-y-auto">
    <header class="mx-auto flex max-w-6xl items-center gap-3 px-8 pt-8 pb-6">
      <AppMark />
      <h1 class="flex-1 text-xl font-semibold">{{ say`Wisp Trail` }}</h1>
      <MenuButton :label="say`Language`" :entries="tongues" button-class="button-quiet">
        <Languages :size="15" aria-hidden="true" /> {{ languages[languageName].name }}
      </MenuButton>
      <button type="button" class="button-quiet" @click="helpShown = true">
        <CircleHelp :size="15" aria-hidden="true" /> {{ say`Help` }}
      </button>
      <button v-if="!trouble" type="button" class="button-quiet" @click="keeping = true">
        <ArchiveRestore :size="15" aria-hidden="true" /> {{ say`Backups and room` }}
      </button>
      <button v-if="!trouble" type="button" class="button-quiet" @click="arrivals?.pick()">
        <FolderInput :size="15" aria-hidden="true" /> {{ say`Open a project file` }}
      </button>
      <button v-if="!trouble" type="button" class="button-main" @click="create()">
        <Plus :size="16" aria-hidden="true" /> {{ say`New project` }}
      </button>
    </header>
    <Arrivals ref="arrivals" :page="page" @arrived="load" @clips="createFor" />
    <section v-if="trouble" class="mx-auto max-w-6xl px-8">
      <p class="max-w-3xl text-l text-ember [overflow-wrap:anywhere]" role="alert">{{ trouble }}</p>
      <div class="mt-4 flex flex-wrap gap-2">
        <button type="button" class="button" @click="load">{{ say`Try again` }}</button>
        <button
          v-for="choice in choices.filter((one) => one.id)"
          :key="choice.id"
          type="button"
          class="button"
          @click="choose(choice.id)"
        >
          {{ heard(choice.label) }}
        </button>
      </div>
    </section>
    <Beginning
      v-else-if="projects?.length === 0"
      :opening="opening"
      @example="openExample"
      @clips="arrivals?.pickClips()"
    />
    <ul
      v-else
      class="mx-auto grid max-w-6xl grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-x-5 gap-y-7 px-8 pb-12"
    >
      <li v-for="project in projects" :key="project.id" class="group min-w-0" :aria-label="project.name">
        <RouterLink
          :to="`/project/${project.id}`"
          class="block overflow-hidden rounded-[9px] bg-panel"
          :aria-label="say`Open ${project.name}`"
          draggable="false"
        >
          <span class="relative block aspect-video">
            <span class="absolute inset-0 flex items-center justify-center text-third" aria-hidden="true"
              ><AppMark class="opacity-30"
            /></span>
            <img
              :src="`/api/projects/${project.id}/thumbnail?${project.changed}`"
              alt=""
              class="absolute inset-0 size-full object-cover transition-opacity group-hover:opacity-90"
              draggable="false"
              @error="($event.target as HTMLImageElement).hidden = true"
            />
          </span>
        </RouterLink>
        <div class="mt-2 flex items-center gap-1">
          <EditableName
            :ref="remember(project.id)"
            class="min-w-0 flex-1 text-l font-semibold"
            :name="project.name"
            :label="say`Name of the project`"
            @rename="rename(project, $event)"
          />
          <MenuButton :label="say`More for ${project.name}`" :entries="menu(project)" button-class="icon-button !size-7"
            ><Ellipsis :size="16" aria-hidden="true"
          /></MenuButton>
        </div>
        <p class="flex justify-between gap-2 text-second">
          <span class="whitespace-nowrap">{{ facts(project) }}</span>
          <span class="truncate">{{
            formatDistanceToNow(new Date(project.changed), { addSuffix: true, ...inLocale })
          }}</span>
        </p>
        <div
          v-if="project.traced !== null"
          class="mt-1.5 flex items-center gap-2"
          :title="say`${Math.round(project.traced * 100)} % of the frames of all parts are traced`"
        >
          <span class="h-1 flex-1 overflow-hidden rounded-full bg-selected">
            <span class="block h-full rounded-full bg-second" :style="{ width: `${project.traced * 100}%` }" />
          </span>
          <span class="numbers text-s text-second">{{ say`${Math.round(project.traced * 100)}% traced` }}</span>
        </div>
      </li>
      <li :aria-label="say`The example`">
        <button
          type="button"
          class="flex aspect-video w-full flex-col items-center justify-center gap-1 rounded-[9px] border border-dashed border-[#4a4a4a] text-second transition-colors duration-100 hover:bg-panel hover:text-text"
          :disabled="opening"
          @click="openExample"
        >
          <span class="font-semibold">{{ opening ? say`The example comes…` : say`Open the example` }}</span>
          <span>{{ say`a copy of its own, to look at and to spoil` }}</span>
        </button>
      </li>
    </ul>
    <TakeOutDialog v-if="leaving" :project="leaving" @close="leaving = null" />
    <HelpDialog v-if="helpShown" v-model="helpShown" />
    <KeepingDialog v-if="keeping" @close="keeping = false" @changed="load" />
  </main>
</template>
