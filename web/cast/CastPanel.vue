<script setup lang="ts">
import { Ellipsis, Eye, EyeOff, Lock, LockOpen, Plus, ScanSearch } from '@lucide/vue'
import { computed, ref } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import type { Member, Part, Role } from '#core/records/types.ts'
import type { PartKindName } from '#core/shapes/registry.ts'
import { templates } from '#core/shapes/templates.ts'
import { tracedShare } from '#core/shapes/track.ts'
import { useCast } from '../editor/cast.ts'
import { castColour } from '../editor/castColours.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useSelection } from '../editor/selection.ts'
import { useViewing } from '../editor/viewing.ts'
import { useProject } from '../project/project.ts'
import EditableName from '../ui/EditableName.vue'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'

/** Whether shapes are being suggested. */
const suggests = defineModel<boolean>('suggests', { required: true })
const project = useProject()
const opened = useOpenShot()
const selected = useSelection()
const viewing = useViewing()
const cast = useCast()

const names = new Map<string, InstanceType<typeof EditableName>>()
const remember = (id: string) => (field: unknown) =>
  void (field && names.set(id, field as InstanceType<typeof EditableName>))
const palette = ref<string | null>(null)

const list = computed(() =>
  opened.members.map((member) => {
    const parts = [...project.childrenOf('part', member.id)]
    const shares = parts.map((part) => tracedShare(opened.track(part), opened.length, part.ride !== null))
    return {
      id: member.id,
      member,
      parts,
      share: shares.length ? shares.reduce((a, b) => a + b, 0) / shares.length : null,
    }
  }),
)

const additions: MenuEntry[] = templates.map((template) => ({
  label: template.label,
  run: () => void cast.addMember(template),
}))
const kinds: { kind: PartKindName; label: string }[] = [
  { kind: 'outline', label: 'Add an outline' },
  { kind: 'rod', label: 'Add a rod' },
  { kind: 'oval', label: 'Add an oval' },
  { kind: 'pin', label: 'Add a pin' },
  { kind: 'point', label: 'Add a point' },
]
const memberMenu = (member: Member): MenuEntry[] => [
  ...kinds.map(({ kind, label }) => ({ label, run: () => void cast.addPart(member, kind) })),
  { label: 'Rename', run: () => void names.get(member.id)?.edit() },
  { label: 'Colour', run: () => void (palette.value = member.id) },
  alone(member.id),
  { label: 'Duplicate with keys', run: () => cast.duplicate(member) },
  { label: 'Delete', danger: true, run: () => cast.removeAll(member) },
]
const partMenu = (part: Part): MenuEntry[] => [
  { label: 'Rename', run: () => void names.get(part.id)?.edit() },
  alone(part.id),
  { label: 'Duplicate with keys', run: () => cast.duplicate(part) },
  { label: 'Delete', danger: true, run: () => cast.removeAll(part) },
]
const alone = (id: string): MenuEntry => ({
  label: viewing.solo === id ? 'Show all again' : 'Show alone',
  run: () => void (viewing.solo = viewing.solo === id ? '' : id),
})
function colour(member: Member, index: number): void {
  palette.value = null
  cast.change(member, { colour: index }, `Colour of ${member.name}`)
}
const toggle = (part: Part, field: 'hidden' | 'locked') =>
  cast.change(part, { [field]: !part[field] }, `${part[field] ? 'No longer' : 'Now'} ${field}: ${part.name}`)
const signs: Record<Role, string> = { add: '', cut: '−', limit: '∩' }
const roleTitles: Record<Role, string> = { add: '', cut: 'Cuts from the matte', limit: 'Limits the matte' }
</script>

<template>
  <section aria-label="Cast" class="flex flex-col">
    <header class="flex h-9 items-center justify-between pr-2 pl-3">
      <h2 class="heading">Cast</h2>
      <button
        v-if="viewing.solo"
        type="button"
        class="button-quiet text-ember"
        title="Only some are shown"
        @click="viewing.solo = ''"
      >
        show all
      </button>
      <button
        type="button"
        class="button-quiet ml-auto !px-1.5"
        :class="{ 'text-wisp': suggests }"
        aria-label="Suggestions"
        title="Look for people, faces and hands in the picture"
        :aria-pressed="suggests"
        @click="suggests = !suggests"
      >
        <ScanSearch :size="15" aria-hidden="true" />
      </button>
      <MenuButton label="Add to the cast" :entries="additions" button-class="button-quiet text-wisp">
        <Plus :size="15" aria-hidden="true" /> add
      </MenuButton>
    </header>
    <VueDraggable
      :model-value="list"
      tag="ul"
      class="scroll-thin flex min-h-0 flex-col gap-1 overflow-y-auto px-2 pb-1"
      handle=".member-name"
      :animation="120"
      @end="({ data, newIndex }) => data && newIndex !== undefined && cast.reorder(data.member, newIndex)"
    >
      <li v-for="{ member, parts, share } in list" :key="member.id">
        <div class="group flex h-7 items-center gap-2 pl-1.5">
          <button
            type="button"
            class="size-3 shrink-0 rounded-full"
            :style="{ background: castColour(member.colour) }"
            :aria-label="`Colour of ${member.name}`"
            title="Colour"
            @click="palette = palette === member.id ? null : member.id"
          />
          <EditableName
            :ref="remember(member.id)"
            class="member-name min-w-0 flex-1 cursor-grab font-semibold"
            :class="{
              'opacity-50': viewing.solo && viewing.solo !== member.id && !parts.some((p) => p.id === viewing.solo),
            }"
            :name="member.name"
            label="Name of the cast member"
            @rename="cast.change(member, { name: $event }, `Rename ${member.name}`)"
          />
          <span
            v-if="share !== null"
            class="numbers text-s text-second"
            title="Frames that have a shape or are marked away"
            >{{ Math.round(share * 100) }}%</span
          >
          <MenuButton
            :label="`More for ${member.name}`"
            :entries="memberMenu(member)"
            button-class="icon-button !size-6 opacity-60 group-hover:opacity-100"
          >
            <Ellipsis :size="15" aria-hidden="true" />
          </MenuButton>
        </div>
        <div v-if="palette === member.id" class="flex gap-1.5 px-1.5 py-1" role="group" aria-label="Cast colours">
          <button
            v-for="i in 8"
            :key="i"
            type="button"
            class="size-5 rounded-full"
            :class="{ 'ring-2 ring-text': member.colour === i - 1 }"
            :style="{ background: castColour(i - 1) }"
            :aria-label="`Colour ${i}`"
            @click="colour(member, i - 1)"
          />
        </div>
        <VueDraggable
          :model-value="parts"
          tag="ul"
          :group="`parts of ${member.id}`"
          :animation="120"
          filter="button[data-state], .no-drag"
          :prevent-on-filter="false"
          @end="({ data, newIndex }) => data && newIndex !== undefined && cast.reorder(data, newIndex)"
        >
          <li
            v-for="part in parts"
            :key="part.id"
            class="group flex h-7 items-center rounded-[6px] pr-0 pl-6"
            :class="part.id === selected.partId ? 'bg-selected' : 'hover:bg-raised'"
          >
            <button
              type="button"
              class="flex min-w-0 flex-1 items-center gap-2 self-stretch text-left"
              :class="{ 'opacity-45': part.hidden || (viewing.solo && !viewing.visible.includes(part)) }"
              :aria-label="`${part.name} ${part.kind}`"
              :aria-pressed="part.id === selected.partId"
              @click="selected.choosePart(part)"
            >
              <EditableName
                :ref="remember(part.id)"
                class="min-w-0 flex-1"
                :class="part.id === selected.partId ? 'text-text' : 'text-second'"
                :name="part.name"
                label="Name of the part"
                @rename="cast.change(part, { name: $event }, `Rename ${part.name}`)"
              />
              <span v-if="part.role !== 'add'" class="numbers text-second" :title="roleTitles[part.role]">{{
                signs[part.role]
              }}</span>
              <span class="pr-2 text-s text-third group-hover:hidden">{{ part.kind }}</span>
            </button>
            <button
              v-for="state in ['hidden', 'locked'] as const"
              :key="state"
              type="button"
              class="icon-button no-drag !size-6"
              :class="part[state] ? '' : '!hidden group-focus-within:!inline-flex group-hover:!inline-flex'"
              :aria-label="`${state === 'hidden' ? 'Hide' : 'Lock'} ${part.name}`"
              :aria-pressed="part[state]"
              :title="
                state === 'hidden'
                  ? 'Hide here; it counts in mattes and effects all the same'
                  : 'Lock: seen but not moved'
              "
              @click="toggle(part, state)"
            >
              <component
                :is="state === 'hidden' ? (part.hidden ? EyeOff : Eye) : part.locked ? Lock : LockOpen"
                :size="14"
                aria-hidden="true"
              />
            </button>
            <MenuButton
              :label="`More for ${part.name}`"
              :entries="partMenu(part)"
              button-class="icon-button no-drag !size-6 !hidden group-hover:!inline-flex group-focus-within:!inline-flex"
            >
              <Ellipsis :size="15" aria-hidden="true" />
            </MenuButton>
          </li>
        </VueDraggable>
      </li>
    </VueDraggable>
    <p v-if="list.length === 0" class="px-3 py-2 text-second">
      Nobody is cast yet. Take a tool and trace something in the picture, or add someone here.
    </p>
  </section>
</template>
