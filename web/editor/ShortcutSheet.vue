<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { Search } from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { soughtIn } from '#core/words/sought.ts'
import { amid, say } from '#core/say.ts'
import { sentenceOf } from '../ui/troubles.ts'
import { useSelection } from './selection.ts'
import { assign, keysOf, ownKeys, patternOf, type Shortcut, shortcuts, shown } from './shortcuts.ts'

/** All keys of the editor, those of the tool in hand first, sought by words; a click on one waits for the key that shall do it from now on. */
const open = defineModel<boolean>({ required: true })
const waiting = ref<Shortcut['run'] | null>(null)
const said = ref('')
watch(open, () => {
  waiting.value = null
  said.value = ''
})

function press(event: KeyboardEvent): void {
  if (!waiting.value) return
  event.preventDefault()
  event.stopPropagation()
  if (event.key === 'Escape') {
    waiting.value = null
    return
  }
  const pattern = patternOf(event)
  if (pattern === null) return
  try {
    said.value = assign(waiting.value, /^[A-Z]$/.test(pattern) ? pattern.toLowerCase() : pattern)
    waiting.value = null
  } catch (error) {
    said.value = sentenceOf(error, say`give the key away`)
  }
}
const selected = useSelection()
const sought = ref('')
const groups = computed(() => {
  const all = shortcuts.flatMap((group) => group.keys)
  if (sought.value.trim())
    return [
      {
        name: say`Found`,
        keys: soughtIn(sought.value, all, (one) => ({ name: one.does, words: `${one.words ?? ''} ${keysSaid(one)}` })),
      },
    ]
  const inHand = all.filter((one) => one.tools?.includes(selected.tool))
  const tool = all.find((one) => one.run === selected.tool)?.does.split(':')[0]
  return [{ name: say`In hand: ${tool ? amid(tool) : selected.tool}`, keys: inHand }, ...shortcuts].filter(
    (group) => group.keys.length,
  )
})
const keysSaid = (one: Shortcut) => keysFor(one).flat().join(' ')
const keysFor = (one: Shortcut) => (one.fixed ? one.patterns.map(shown) : keysOf(one.run))
</script>

<template>
  <Dialog
    class="fixed inset-0 z-20 flex items-center justify-center bg-black/60"
    :open="open"
    @close="waiting === null && (open = false)"
    @keydown.capture="press"
  >
    <DialogPanel
      class="scroll-thin flex max-h-[94vh] w-[1180px] max-w-[96vw] flex-col rounded-[9px] border bg-panel p-5 shadow-[0_8px_24px_rgb(0_0_0/0.5)]"
    >
      <div class="mb-3 flex items-center gap-3">
        <DialogTitle class="text-l font-semibold">{{ say`Keys` }}</DialogTitle>
        <label class="field flex w-56 items-center gap-2 !px-2">
          <Search :size="15" class="text-third" aria-hidden="true" />
          <input
            v-model="sought"
            type="search"
            class="min-w-0 flex-1 bg-transparent outline-none"
            :placeholder="say`erase, magnifier …`"
            :aria-label="say`Search keys`"
          />
        </label>
        <p class="min-w-0 flex-1 truncate text-second" role="status">
          {{ said || (waiting ? say`Press the new key, or Esc to leave it` : say`Click a key to choose another one`) }}
        </p>
        <button
          type="button"
          class="button-quiet"
          :disabled="Object.keys(ownKeys).length === 0"
          @click="((ownKeys = {}), (said = say`All keys are as they came.`))"
        >
          {{ say`Reset all` }}
        </button>
        <button type="button" class="button" @click="open = false">{{ say`Close` }}</button>
      </div>
      <div
        class="scroll-thin columns-2 gap-x-7 overflow-y-auto md:columns-3 lg:columns-4"
        tabindex="0"
        :aria-label="say`Keys by what they do`"
      >
        <section v-for="group in groups" :key="group.name" class="mb-3">
          <h3 class="heading mb-1 break-after-avoid">{{ group.name }}</h3>
          <ul>
            <li
              v-for="one in group.keys"
              :key="one.does"
              class="flex min-h-[25px] break-inside-avoid items-center justify-between gap-2 text-s"
            >
              <span>{{ one.does }}</span>
              <button
                type="button"
                class="flex shrink-0 gap-1 rounded-[5px] p-0.5"
                :class="waiting === one.run ? 'bg-wisp' : one.fixed ? '' : 'hover:bg-selected'"
                :disabled="one.fixed ?? false"
                :aria-label="say`Key for: ${one.does}`"
                :title="one.fixed ? say`This one stays` : say`Click, then press another key`"
                @click="waiting = one.run"
              >
                <template v-for="(way, i) in keysFor(one).slice(0, 1)" :key="i">
                  <kbd v-for="key in way" :key="key" class="key" :class="{ '!text-on-wisp': waiting === one.run }">{{
                    key
                  }}</kbd>
                </template>
                <span v-if="keysFor(one).length === 0" class="px-1 text-third">{{ say`none` }}</span>
              </button>
            </li>
          </ul>
        </section>
        <p v-if="groups[0]!.keys.length === 0" class="text-second">
          {{ say`Nothing has a key by that name. Try another word.` }}
        </p>
      </div>
    </DialogPanel>
  </Dialog>
</template>
