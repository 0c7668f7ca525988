<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { ArchiveRestore, Flag, X } from '@lucide/vue'
import { format, formatDistanceToNowStrict, isToday } from 'date-fns'
import { computed, ref } from 'vue'
import { say } from '#core/say.ts'
import { inLocale } from '../language/language.ts'
import IconButton from '../ui/IconButton.vue'
import type { Binned } from './bin.ts'
import { useProject } from './project.ts'
import type { HistoryEntry } from './steps.ts'

/** What was done in the project, by name and time, to look at and to go back to. Going back can itself be undone. */
const emit = defineEmits<{ close: [] }>()
const project = useProject()
const stage = ref('')

/** Newest first, as one looks back. */
const entries = computed(() => [...project.history].reverse())
const now = computed(() => project.history.findLast(({ done }) => done)?.id ?? '')
const when = ({ at }: Pick<HistoryEntry, 'at'>) =>
  isToday(at)
    ? formatDistanceToNowStrict(at, { addSuffix: true, ...inLocale })
    : format(at, say`d MMM, HH:mm`, inLocale)

/** A member by its name; a part with that of its member. */
function calledOf(record: Binned['record']): string {
  const member = record.type === 'part' ? project.get('member', record.member) : null
  return member ? say`${record.name} of ${member.name}` : record.name
}
function nameStage(): void {
  const name = stage.value.trim().slice(0, 80)
  if (!name) return
  project.nameStage(name)
  stage.value = ''
}
</script>

<template>
  <Dialog class="fixed inset-0 z-20" :open="true" @close="emit('close')">
    <div class="fixed inset-0 flex justify-end">
      <DialogPanel class="flex h-full w-[360px] max-w-full flex-col border-l bg-panel shadow-2xl">
        <header class="flex h-11 shrink-0 items-center justify-between border-b pr-2 pl-4">
          <DialogTitle class="text-l font-semibold">{{ say`What was done` }}</DialogTitle>
          <IconButton :icon="X" :label="say`Close`" @click="emit('close')" />
        </header>
        <form class="flex shrink-0 items-center gap-2 border-b p-3" @submit.prevent="nameStage">
          <input
            v-model="stage"
            class="field min-w-0 flex-1"
            maxlength="80"
            :placeholder="say`Name how it stands now`"
            :aria-label="say`Name of how it stands now`"
          />
          <button type="submit" class="button" :disabled="!stage.trim()">
            <Flag :size="14" aria-hidden="true" /> {{ say`keep` }}
          </button>
        </form>
        <section
          v-if="project.bin.length"
          class="flex max-h-[35%] shrink-0 flex-col border-b"
          :aria-label="say`Deleted`"
        >
          <h3 class="heading px-4 pt-3 pb-1">{{ say`Deleted` }}</h3>
          <ul class="scroll-thin min-h-0 overflow-y-auto px-2 pb-2">
            <li v-for="one in project.bin" :key="one.record.id" class="flex min-h-9 items-center gap-2 pl-2">
              <span class="min-w-0 flex-1 truncate">{{ calledOf(one.record) }}</span>
              <span class="shrink-0 text-s text-second">{{ when(one) }}</span>
              <button
                type="button"
                class="button-quiet"
                :aria-label="say`Bring back ${one.record.name}`"
                :title="say`As it was deleted; what was done since stays`"
                @click="project.takeOut(one)"
              >
                <ArchiveRestore :size="14" aria-hidden="true" /> {{ say`bring back` }}
              </button>
            </li>
          </ul>
        </section>
        <p v-if="entries.length === 0" class="p-4 text-second">{{ say`Nothing was done in this project yet.` }}</p>
        <ul v-else class="scroll-thin min-h-0 flex-1 overflow-y-auto p-2" :aria-label="say`Steps, newest first`">
          <li v-for="one in entries" :key="one.id">
            <button
              type="button"
              class="flex min-h-9 w-full items-center gap-2 rounded-[6px] px-2 py-1 text-left hover:bg-raised"
              :class="{ 'bg-selected hover:!bg-selected': one.id === now }"
              :aria-current="one.id === now"
              :title="one.done ? say`Go back to how it stood after this` : say`Do all up to this again`"
              @click="project.goTo(one.id)"
            >
              <Flag v-if="one.stage" :size="14" class="shrink-0 text-wisp" :aria-label="say`Stage`" />
              <span
                class="min-w-0 flex-1"
                :class="[one.done ? 'text-text' : 'text-third line-through', { 'font-semibold': one.stage }]"
                >{{ one.label }}</span
              >
              <span class="shrink-0 text-s text-second">{{ when(one) }}</span>
            </button>
          </li>
          <li>
            <button
              type="button"
              class="flex min-h-9 w-full items-center rounded-[6px] px-2 py-1 text-left text-second hover:bg-raised"
              :class="{ 'bg-selected hover:!bg-selected': now === '' }"
              :aria-current="now === ''"
              @click="project.goTo('')"
            >
              {{ say`Before all of this` }}
            </button>
          </li>
        </ul>
        <p class="shrink-0 border-t p-3 text-s text-second">
          {{
            say`A press goes there. Nothing is lost by it: what is struck out can be gone forward to until something new is done.`
          }}
        </p>
      </DialogPanel>
    </div>
  </Dialog>
</template>
