<script setup lang="ts">
import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions, Dialog, DialogPanel } from '@headlessui/vue'
import { Search } from '@lucide/vue'
import { computed, ref } from 'vue'
import { type RouteLocationRaw, useRoute, useRouter } from 'vue-router'
import { type EffectKindName, effectKinds } from '#core/effects/catalogue.ts'
import { kindWords } from '#core/effects/sought.ts'
import { templates } from '#core/shapes/templates.ts'
import { soundKinds } from '#core/sound/catalogue.ts'
import { voiceWords } from '#core/sound/sought.ts'
import { soughtIn } from '#core/words/sought.ts'
import { said, say } from '#core/say.ts'
import { useEffects } from '../effects/effects.ts'
import { actions, helpShown } from '../editor/actions.ts'
import { useCast } from '../editor/cast.ts'
import { guiding } from '../editor/guide.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { useSelection } from '../editor/selection.ts'
import { keysOf, shortcuts, type ShortcutName } from '../editor/shortcuts.ts'
import { chooseLanguage, languageName, languageNames, languages } from '../language/language.ts'
import { useProject } from '../project/project.ts'
import { useSounds } from '../sound/sounds.ts'
import { attend } from '../ui/troubles.ts'

/** Everything that can be done here, by its name: typed, chosen, done. */
const props = defineProps<{
  steps: readonly { name: string; label: string }[]
  to: (step: string) => RouteLocationRaw
}>()
const emit = defineEmits<{ past: []; close: [] }>()
const router = useRouter()
const route = useRoute()
const project = useProject()
const opened = useOpenShot()
const playback = usePlayback()
const selected = useSelection()
const cast = useCast()
const effects = useEffects()
const sounds = useSounds()

interface Command {
  name: string
  about: string
  words?: string
  keys?: string[]
  run: () => void
}
const typed = ref('')

/** Goes to a step, and then does what belongs there. */
async function at(step: string, work: () => void = () => {}): Promise<void> {
  if (route.name !== step) await router.push(props.to(step))
  work()
}
const go = (step: string, work?: () => void) => attend(at(step, work), say`go there`)

const commands = computed<Command[]>(() => [
  ...shortcuts.flatMap((group) =>
    group.keys.flatMap((one): Command[] => {
      const run = actions.value[one.run as ShortcutName]
      if (!run || one.run === 'ask') return []
      const [keys = []] = keysOf(one.run)
      return [{ name: one.does, about: group.name, keys, run, ...(one.words ? { words: one.words } : {}) }]
    }),
  ),
  ...props.steps
    .filter((step) => step.name !== route.name && (step.name === 'footage' || project.shots.length))
    .map(({ name, label }) => ({
      name: say`Go to ${label}`,
      about: say`Steps`,
      words: say`open step page`,
      run: () => go(name),
    })),
  {
    name: say`Go to the shelf`,
    about: say`Steps`,
    words: say`projects home close`,
    run: () => attend(router.push('/'), say`go to the shelf`),
  },
  {
    name: say`What was done`,
    about: say`Project`,
    words: say`history undo back stages bin trash deleted recover`,
    run: () => emit('past'),
  },
  { name: say`Help`, about: say`Project`, words: say`how question manual`, run: () => void (helpShown.value = true) },
  ...languageNames
    .filter((name) => name !== languageName)
    .map((name) => ({
      name: languages[name].name,
      about: say`Language`,
      words: say`speak translate English German Deutsch`,
      run: () => chooseLanguage(name),
    })),
  {
    name: guiding.value ? say`Say no more what comes next` : say`Say what comes next, step by step`,
    about: say`Project`,
    words: say`first task tutorial guide lead newcomer learn`,
    run: () => void (guiding.value = !guiding.value),
  },
  ...(opened.shotId ? ofShot.value : []),
])
const ofShot = computed<Command[]>(() => [
  ...project.shots
    .filter((shot) => shot.id !== opened.shotId)
    .map((shot) => ({
      name: say`Open the shot ${shot.name}`,
      about: say`Shots`,
      run: () =>
        attend(
          router.push({
            name: route.name === 'footage' ? 'trace' : route.name!,
            params: { ...route.params, shot: shot.id },
          }),
          say`go to the shot`,
        ),
    })),
  ...opened.members.flatMap((member) =>
    project.childrenOf('part', member.id).map((part) => ({
      name: say`Choose ${part.name} of ${member.name}`,
      about: say`Cast`,
      words: say`select part`,
      run: () => go('trace', () => selected.choosePart(part)),
    })),
  ),
  ...templates.map((template) => ({
    name: say`Cast: ${template.label}`,
    about: say`Cast`,
    words: say`add new member`,
    run: () => go('trace', () => cast.addMember(template)),
  })),
  ...Object.values(effectKinds).map((kind) => ({
    name: say`Add ${kind.title}`,
    about: say`Effects, ${said(kind.group)}`,
    words: `${kind.summary} ${kindWords[kind.kind as EffectKindName]}`,
    run: () => go('effects', () => effects.add(kind.kind)),
  })),
  ...Object.values(soundKinds)
    .filter(({ group }) => group !== 'Files')
    .map((kind) => ({
      name: say`Add the sound ${kind.title}`,
      about: say`Sound`,
      words: `${kind.summary} ${voiceWords[kind.kind as keyof typeof soundKinds]}`,
      run: () => go('sound', () => sounds.add(kind.kind)),
    })),
])
/** A number alone is a frame. */
const frame = computed<Command[]>(() => {
  const number = /^\s*\d+\s*$/.test(typed.value) ? Number(typed.value) : null
  return number === null || !opened.shotId || number >= opened.length
    ? []
    : [{ name: say`Go to frame ${number}`, about: say`Frames`, run: () => playback.go(number) }]
})
const most = 60
const found = computed(() =>
  [
    ...frame.value,
    ...soughtIn(typed.value, commands.value, ({ name, about, words }) => ({ name, says: `${about} ${words ?? ''}` })),
  ].slice(0, most),
)
function run(command: Command | null): void {
  if (!command) return
  emit('close')
  command.run()
}
</script>

<template>
  <Dialog class="fixed inset-0 z-20" :aria-label="say`Do something by its name`" :open="true" @close="emit('close')">
    <div class="absolute inset-0 bg-black/40" aria-hidden="true" />
    <div class="absolute inset-0 flex justify-center p-6 pt-[12vh]">
      <DialogPanel
        class="flex h-fit max-h-[64vh] w-[560px] max-w-full flex-col overflow-hidden rounded-[10px] border bg-panel shadow-[0_8px_24px_rgb(0_0_0/0.5)]"
        @keydown.escape.capture.stop="emit('close')"
      >
        <Combobox :model-value="null" nullable @update:model-value="run">
          <div class="flex h-12 shrink-0 items-center gap-3 border-b px-4">
            <Search :size="16" class="text-third" aria-hidden="true" />
            <ComboboxInput
              class="h-full min-w-0 flex-1 bg-transparent text-l !outline-none"
              :placeholder="say`What shall be done? A number goes to its frame.`"
              :aria-label="say`What shall be done`"
              autocomplete="off"
              spellcheck="false"
              :display-value="() => ''"
              @change="typed = $event.target.value"
            />
          </div>
          <ComboboxOptions static class="scroll-thin min-h-0 overflow-y-auto p-1.5">
            <ComboboxOption
              v-for="one in found"
              :key="`${one.about} ${one.name}`"
              v-slot="{ active }"
              as="template"
              :value="one"
            >
              <li class="menu-item !h-8" :class="{ 'menu-item-active': active }">
                <span class="min-w-0 flex-1 truncate">{{ one.name }}</span>
                <span class="text-s text-second">{{ one.about }}</span>
                <span class="flex w-20 shrink-0 justify-end gap-1"
                  ><kbd v-for="key in one.keys ?? []" :key="key" class="key">{{ key }}</kbd></span
                >
              </li>
            </ComboboxOption>
            <li v-if="found.length === 0" class="px-2.5 py-2 text-second" role="presentation">
              {{ say`Nothing here is called so. Try another word.` }}
            </li>
          </ComboboxOptions>
        </Combobox>
      </DialogPanel>
    </div>
  </Dialog>
</template>
