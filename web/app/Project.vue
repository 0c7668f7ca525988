<script setup lang="ts">
import { CircleHelp, History, Keyboard, TextSearch } from '@lucide/vue'
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, onBeforeUnmount, provide, ref, watch } from 'vue'

import { type RouteRecordName, useRoute, useRouter } from 'vue-router'
import { toast } from 'vue-sonner'
import { say } from '#core/say.ts'
import { asking, helpShown, keysShown, useActions } from '../editor/actions.ts'
import { colourFromPicture } from '../editor/dropper.ts'
import { guideKey } from '../editor/guide.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { keysOf } from '../editor/shortcuts.ts'
import GuideLine from '../editor/stage/GuideLine.vue'
import { closeSecondWindow } from '../editor/stage/secondWindow.ts'
import { useViewing } from '../editor/viewing.ts'
import { useConversions } from '../footage/conversions.ts'
import { keepThumbnail } from '../frames/thumbnail.ts'
import { useOutputs } from '../output/outputs.ts'
import ClashDialog from '../project/ClashDialog.vue'
import { useProject } from '../project/project.ts'
import { coloursOf } from '#core/edits/colours.ts'
import AppMark from '../ui/AppMark.vue'
import ChoiceField from '../ui/ChoiceField.vue'
import EditableName from '../ui/EditableName.vue'
import IconButton from '../ui/IconButton.vue'
import { colourSources } from '../ui/colours.ts'
import { attend, sentenceOf } from '../ui/troubles.ts'
import KeepingWord from './KeepingWord.vue'
import Nowhere from './Nowhere.vue'
import UndoButtons from './UndoButtons.vue'
import { useGuide } from './guide.ts'

const ShortcutSheet = defineAsyncComponent(() => import('../editor/ShortcutSheet.vue'))
const HelpDialog = defineAsyncComponent(() => import('../ui/HelpDialog.vue'))
const CommandList = defineAsyncComponent(() => import('./CommandList.vue'))
const HistoryDialog = defineAsyncComponent(() => import('../project/HistoryDialog.vue'))
const route = useRoute()
const router = useRouter()
const project = useProject()
// What was converted meanwhile comes in, whichever step is open.
useConversions()
const opened = useOpenShot()
const viewing = useViewing()
const outputs = useOutputs()
const trouble = ref('')
const loaded = ref(false)
const lookingBack = ref(false)
/** Milliseconds for which the picture is waited for before the step is built. */
const longestBegin = 200

watch(
  () => route.params.id,
  async (id) => {
    if (typeof id !== 'string') return
    loaded.value = false
    trouble.value = ''
    opened.leave()
    try {
      await project.open(id)
      // Somebody may have gone elsewhere meanwhile.
      if (route.params.id !== id) return
      await Promise.race([beginShot(), new Promise((done) => setTimeout(done, longestBegin))])
      loaded.value = true
      // What waited to be rendered when a tab was closed goes on, whichever step is open.
      await outputs.load()
    } catch (error) {
      trouble.value = sentenceOf(error, say`open the project`)
    }
  },
  { immediate: true },
)

/** The shot of the address; without one, the one that is open already, or the first. */
const wantedShot = () =>
  (project.get('shot', String(route.params.shot ?? '')) ?? project.get('shot', opened.shotId) ?? project.shots[0])?.id
/** Has the shot's picture on its way while the step is built, which keeps the page busy for half a second. */
async function beginShot(): Promise<void> {
  const id = wantedShot()
  if (id && route.name !== 'footage') await opened.open(id)
}
watch(
  [loaded, () => route.params.shot, () => route.name, () => project.shots.length],
  () => {
    if (!loaded.value || !route.name || route.name === 'footage') return
    const id = wantedShot()
    const go = (name: RouteRecordName, shot?: string) =>
      attend(router.replace({ name, params: { id: route.params.id!, ...(shot ? { shot } : {}) } }), say`go to the shot`)
    if (!id) return go('footage')
    if (id !== route.params.shot) go(route.name, id)
    else if (id !== opened.shotId) attend(opened.open(id), say`open the shot`)
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  keepThumbnail(project.session?.project ?? '', opened.pictures.shown()?.picture ?? null)
  closeSecondWindow()
  opened.leave()
  project.close()
})

// A link, button or slider that was used with the mouse gives the keys back to the picture.
const release = (event: Event) => {
  const used = (event.target as HTMLElement | null)?.closest<HTMLElement>(
    'a, button:not([aria-haspopup]), input[type=range]',
  )
  // A dialog keeps them.
  if (!used?.closest('[role=dialog]')) used?.blur()
}
useEventListener(window, 'click', (event) => event.detail > 0 && release(event))
useEventListener(window, 'change', release)

const guide = useGuide()
provide(guideKey, guide)
provide(colourSources, {
  used: computed(() => coloursOf(project.records())),
  fromPicture: computed(() => (opened.shotId && hasPicture(route.name) ? colourFromPicture : null)),
})
useActions({
  undo: () => project.undo(),
  redo: () => project.redo(),
  sheet: () => void (keysShown.value = true),
  ask: () => void (asking.value = true),
})

/** Whether a step shows the picture. */
const hasPicture = (name: unknown) => ['trace', 'effects', 'sound'].includes(String(name))

const steps = [
  { name: 'footage', label: say`Footage` },
  { name: 'trace', label: say`Trace` },
  { name: 'effects', label: say`Effects` },
  { name: 'sound', label: say`Sound` },
  { name: 'output', label: say`Output` },
] as const
/** The charts belong to tracing. */
const stepShown = computed(() => (route.name === 'charts' ? 'trace' : route.name))
/** The shot of the address, which may still be being opened, else the one that is open. */
const shotNow = computed(
  () => project.get('shot', String(route.params.shot ?? ''))?.id ?? (opened.shotId || project.shots[0]?.id || ''),
)
const to = (name: string) => ({
  name,
  params: name === 'footage' ? { id: route.params.id } : { id: route.params.id, shot: shotNow.value },
})
const shotOptions = computed(() => project.shots.map((shot) => ({ value: shot.id, label: shot.name })))
const chosenShot = computed({
  get: () => opened.shotId || project.shots[0]?.id || '',
  set: (shot: string) =>
    attend(
      router.push({ name: route.name === 'footage' ? 'trace' : route.name!, params: { id: route.params.id, shot } }),
      say`go to the shot`,
    ),
})
function rename(name: string): void {
  if (project.project) project.commit(say`Rename the project`, { put: [{ ...project.project, name }], remove: [] })
}
</script>

<template>
  <Nowhere v-if="trouble" :sentence="trouble" />
  <div v-else-if="loaded" class="flex h-full flex-col">
    <header
      v-if="!viewing.quiet"
      class="grid h-11 shrink-0 grid-cols-[1fr_auto_1fr] items-center border-b bg-panel px-3 max-[860px]:px-1"
    >
      <h1 class="sr-only">{{ project.project?.name }}: {{ steps.find((step) => step.name === stepShown)?.label }}</h1>
      <div class="flex min-w-0 items-center gap-3">
        <RouterLink to="/" :aria-label="say`To the shelf`" :title="say`To the shelf`" class="rounded-[6px]"
          ><AppMark
        /></RouterLink>
        <EditableName
          class="max-w-48 font-semibold max-[860px]:hidden"
          :name="project.project?.name ?? ''"
          :label="say`Name of the project`"
          @rename="rename"
        />
        <ChoiceField v-if="shotOptions.length" v-model="chosenShot" bare :label="say`Shot`" :options="shotOptions" />
      </div>
      <nav class="flex h-full" :aria-label="say`Steps`">
        <template v-for="step in steps" :key="step.name">
          <button
            v-if="step.name !== 'footage' && project.shots.length === 0"
            type="button"
            class="flex h-full items-center border-b-2 border-transparent px-5 text-third max-[860px]:px-1.5"
            aria-disabled="true"
            :title="say`${step.label} opens with the first clip: bring one in under Footage`"
            @click="toast(say`${step.label} opens with the first clip: bring one in under Footage.`)"
          >
            {{ step.label }}
          </button>
          <RouterLink
            v-else
            :to="to(step.name)"
            class="flex h-full items-center border-b-2 border-transparent px-5 text-second max-[860px]:px-1.5 hover:text-text aria-[current=page]:border-wisp aria-[current=page]:font-semibold aria-[current=page]:text-text"
            :aria-current="stepShown === step.name ? 'page' : undefined"
          >
            {{ step.label }}
          </RouterLink>
        </template>
      </nav>
      <div class="flex items-center justify-end gap-1">
        <KeepingWord />
        <IconButton
          :icon="TextSearch"
          :label="say`Do something by its name`"
          :keys="keysOf('ask')[0]?.join(' ')"
          @click="asking = true"
        />
        <IconButton
          :icon="Keyboard"
          :label="say`Keys`"
          :keys="keysOf('sheet')[0]?.join(' ')"
          @click="keysShown = true"
        />
        <IconButton :icon="CircleHelp" :label="say`Help`" @click="helpShown = true" />
        <IconButton :icon="History" :label="say`What was done`" @click="lookingBack = true" />
        <UndoButtons />
      </div>
    </header>
    <GuideLine v-if="route.name === 'footage'" class="mx-auto mt-2" />
    <RouterView />
    <ClashDialog />
    <ShortcutSheet v-if="keysShown" v-model="keysShown" />
    <CommandList v-if="asking" :steps="steps" :to="to" @past="lookingBack = true" @close="asking = false" />
    <HelpDialog v-if="helpShown" v-model="helpShown" />
    <HistoryDialog v-if="lookingBack" @close="lookingBack = false" />
  </div>
</template>
