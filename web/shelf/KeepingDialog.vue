<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { X } from '@lucide/vue'
import { format } from 'date-fns'
import { computed, onMounted, ref } from 'vue'
import { toast } from 'vue-sonner'
import { fileSize } from '#core/formats/fileSize.ts'
import type { BackupSummary, Freeable, RoomTaken } from '#core/records/exchange.ts'
import { say } from '#core/say.ts'
import { inLocale } from '../language/language.ts'
import { api } from '../project/api.ts'
import ChoiceField from '../ui/ChoiceField.vue'
import IconButton from '../ui/IconButton.vue'
import { attend, tell } from '../ui/troubles.ts'

/** How the shelf is kept: its backups and the way back to them, the room that everything takes, and how to free some. */
const emit = defineEmits<{ close: []; changed: [] }>()

const backups = ref<BackupSummary[]>([])
const backupRoom = ref(0)
const taken = ref<RoomTaken | null>(null)
/** The backup that is looked into, and what is in it. */
const looked = ref('')
const contents = ref<{ id: string; name: string }[]>([])
const busy = ref('')

async function load(): Promise<void> {
  const [kept, room] = await Promise.all([api.backups(), api.room()])
  backups.value = kept.backups
  backupRoom.value = kept.room
  taken.value = room
}
/** Does something that takes a moment, one after the other, and shows how things are then. */
async function act(doing: string, work: () => Promise<unknown>): Promise<void> {
  if (busy.value) return
  busy.value = doing
  try {
    await work()
    await load()
  } catch (error) {
    tell(error, doing)
  } finally {
    busy.value = ''
  }
}
onMounted(() => attend(act(say`look at the backups`, load), say`look at the backups`))

const lookInto = (name: string) =>
  act(say`look into the backup`, async () => {
    const inside = looked.value === name ? [] : await api.backupContents(name)
    looked.value = inside.length ? name : ''
    contents.value = inside
  })
const bringBack = (backup: BackupSummary, project: { id: string; name: string } | null) =>
  act(say`bring it back`, async () => {
    const { ids } = await api.bringBack(backup.name, project?.id ?? null)
    toast(
      project
        ? say`"${project.name}" as it was then stands on the shelf, beside what is there.`
        : say`${ids.length} projects as they were then stand on the shelf, beside what is there.`,
    )
    emit('changed')
  })
const makeBackup = () =>
  act(say`make a backup`, async () => {
    const { made } = await api.makeBackup()
    if (!made) toast(say`Nothing has changed since the last backup.`)
  })
const free = () =>
  act(say`free the room`, async () => {
    const { bytes } = await api.freeRoom()
    toast(say`${fileSize(bytes)} are free again.`)
  })

const gigabyte = 1024 ** 3
const rooms = computed(() => [0.5, 1, 2, 5, 10, 50].map((size) => ({ value: size * gigabyte, label: say`${size} GB` })))
const rows = computed(() => {
  const now = taken.value
  if (!now) return []
  return [
    [say`Clips`, now.clips],
    [say`Rendered files`, now.rendered],
    [say`Projects`, now.projects + now.pictures],
    [say`Backups`, now.backups],
  ] as const
})
const words: Record<Freeable['what'], (count: number) => string> = {
  clips: (n) => say`${n} ${n === 1 ? say`clip` : say`clips`} that no project and no backup uses`,
  originals: (n) => say`${n} ${n === 1 ? say`file` : say`files`} as they came in, of projects that are gone`,
  rendered: (n) => say`${n} rendered ${n === 1 ? say`file` : say`files`} of projects that are gone`,
  pictures: (n) => say`${n} small ${n === 1 ? say`picture` : say`pictures`} of projects that are gone`,
  logs: (n) => say`notes of ${n} changes that are more than 30 days old`,
}
const freeable = computed(() => taken.value?.freeable ?? [])
</script>

<template>
  <Dialog class="fixed inset-0 z-20" :open="true" @close="emit('close')">
    <div class="fixed inset-0 bg-black/60" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-6">
      <DialogPanel class="flex max-h-full w-[760px] flex-col overflow-hidden rounded-[12px] border bg-panel shadow-2xl">
        <header class="flex items-center justify-between border-b px-5 py-3">
          <DialogTitle class="text-l font-semibold">{{ say`Backups and room` }}</DialogTitle>
          <IconButton :icon="X" :label="say`Close`" @click="emit('close')" />
        </header>
        <div class="grid min-h-0 flex-1 grid-cols-[1fr_280px]">
          <section class="scroll-thin min-h-0 overflow-y-auto border-r p-5" :aria-label="say`Backups`">
            <p class="mb-3 text-second">
              {{
                say`While you work a copy of all projects is made every hour, the last 24 and one a day for two weeks are kept. What you bring back comes as a copy; what is on the shelf stays as it is.`
              }}
            </p>
            <ul>
              <li
                v-for="backup in backups"
                :key="backup.name"
                class="border-b py-1"
                :aria-label="say`Backup ${backup.at}`"
              >
                <div class="flex h-8 items-center gap-3">
                  <span class="numbers flex-1">{{
                    format(new Date(backup.at), say`EEEE d MMM, HH:mm`, inLocale)
                  }}</span>
                  <span class="numbers text-s text-second">{{ fileSize(backup.bytes) }}</span>
                  <button
                    type="button"
                    class="button-quiet"
                    :aria-expanded="looked === backup.name"
                    :disabled="busy !== ''"
                    @click="lookInto(backup.name)"
                  >
                    {{ say`look into` }}
                  </button>
                </div>
                <ul v-if="looked === backup.name" class="mb-2 rounded-[9px] bg-raised px-3 py-1">
                  <li v-for="one in contents" :key="one.id" class="flex h-8 items-center gap-3">
                    <span class="min-w-0 flex-1 truncate">{{ one.name }}</span>
                    <button
                      type="button"
                      class="button-quiet text-wisp"
                      :disabled="busy !== ''"
                      :aria-label="say`Bring back ${one.name}`"
                      @click="bringBack(backup, one)"
                    >
                      {{ say`bring back` }}
                    </button>
                  </li>
                  <li v-if="contents.length > 1" class="flex h-8 items-center justify-end border-t">
                    <button
                      type="button"
                      class="button-quiet text-wisp"
                      :disabled="busy !== ''"
                      @click="bringBack(backup, null)"
                    >
                      {{ say`bring all ${contents.length} back` }}
                    </button>
                  </li>
                </ul>
              </li>
            </ul>
            <p v-if="backups.length === 0" class="text-second">
              {{ say`None yet: the first is made within an hour of work.` }}
            </p>
            <button type="button" class="button mt-3" :disabled="busy !== ''" @click="makeBackup">
              {{ say`Make one now` }}
            </button>
          </section>
          <section class="scroll-thin min-h-0 overflow-y-auto p-5" :aria-label="say`Room`">
            <h3 class="heading mb-2">{{ say`Room it takes` }}</h3>
            <dl class="grid grid-cols-[1fr_auto] gap-x-3 gap-y-1">
              <template v-for="[name, bytes] in rows" :key="name">
                <dt class="text-second">{{ name }}</dt>
                <dd class="numbers text-right">{{ fileSize(bytes) }}</dd>
              </template>
            </dl>
            <ChoiceField
              class="mt-3"
              :label="say`For backups`"
              :options="rooms"
              :model-value="backupRoom"
              @update:model-value="act(say`set the room for backups`, () => api.setBackupRoom($event))"
            />
            <h3 class="heading mt-6 mb-2">{{ say`Nobody needs` }}</h3>
            <ul v-if="freeable.length" class="mb-3 flex flex-col gap-1.5">
              <li v-for="one in freeable" :key="one.what" class="flex gap-3">
                <span class="flex-1 text-second">{{ words[one.what](one.count) }}</span>
                <span class="numbers">{{ fileSize(one.bytes) }}</span>
              </li>
            </ul>
            <p v-else class="text-second">
              {{ say`Everything here is in use, or an undo could still bring it back.` }}
            </p>
            <button v-if="freeable.length" type="button" class="button-main" :disabled="busy !== ''" @click="free">
              {{ say`Free ${fileSize(freeable.reduce((sum, one) => sum + one.bytes, 0))}` }}
            </button>
          </section>
        </div>
      </DialogPanel>
    </div>
  </Dialog>
</template>
