<script setup lang="ts">
import { Ellipsis, Eye, EyeOff, Lock, LockOpen } from '@lucide/vue'
import { computed, useTemplateRef } from 'vue'
import type { Part, Role } from '#core/records/types.ts'
import { said, say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { useSelection } from '../editor/selection.ts'
import { useViewing } from '../editor/viewing.ts'
import EditableName from '../ui/EditableName.vue'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import { alone } from './alone.ts'

/** A part's row in the cast. */
const props = defineProps<{ part: Part }>()
const emit = defineEmits<{ carry: [] }>()
const selected = useSelection()
const viewing = useViewing()
const cast = useCast()

const name = useTemplateRef('name')
const chosen = computed(() => props.part.id === selected.partId)
/** Whether others are shown alone. */
const faded = computed(() => viewing.solo !== '' && ![props.part.id, props.part.member].includes(viewing.solo))

const menu = (): MenuEntry[] => [
  { label: say`Rename`, run: () => void name.value?.edit() },
  alone(viewing, props.part.id),
  { label: say`Duplicate with keys`, run: () => cast.duplicate(props.part) },
  { label: say`Move or copy to…`, run: () => emit('carry') },
  { label: say`Delete`, danger: true, run: () => cast.removeAll(props.part) },
]
const toggle = (field: 'hidden' | 'locked') =>
  cast.change(
    props.part,
    { [field]: !props.part[field] },
    `${props.part[field] ? say`No longer` : say`Now`} ${field}: ${props.part.name}`,
  )
const signs: Record<Role, string> = { add: '', cut: '−', limit: '∩' }
const roleTitles: Record<Role, string> = { add: '', cut: say`Cuts from the matte`, limit: say`Limits the matte` }
</script>

<template>
  <li class="group flex h-7 items-center rounded-[6px] pr-0 pl-6" :class="chosen ? 'bg-selected' : 'hover:bg-raised'">
    <button
      type="button"
      class="flex min-w-0 flex-1 items-center gap-2 self-stretch text-left"
      :class="{ 'opacity-45': part.hidden || faded }"
      :aria-label="`${part.name} ${said(part.kind)}`"
      :aria-pressed="chosen"
      @click="selected.choosePart(part)"
    >
      <EditableName
        ref="name"
        class="min-w-0 flex-1"
        :class="chosen ? 'text-text' : 'text-second'"
        :name="part.name"
        :label="say`Name of the part`"
        @rename="cast.change(part, { name: $event }, say`Rename ${part.name}`)"
      />
      <span v-if="part.role !== 'add'" class="numbers text-second" :title="roleTitles[part.role]">{{
        signs[part.role]
      }}</span>
      <span class="pr-2 text-s text-third group-hover:hidden">{{ said(part.kind) }}</span>
    </button>
    <button
      v-for="state in ['hidden', 'locked'] as const"
      :key="state"
      type="button"
      class="icon-button no-drag !size-6"
      :class="part[state] ? '' : '!hidden group-focus-within:!inline-flex group-hover:!inline-flex'"
      :aria-label="`${state === 'hidden' ? say`Hide` : say`Lock`} ${part.name}`"
      :aria-pressed="part[state]"
      :title="
        state === 'hidden'
          ? say`Hide here; it counts in mattes and effects all the same`
          : say`Lock: seen but not moved`
      "
      @click="toggle(state)"
    >
      <component
        :is="state === 'hidden' ? (part.hidden ? EyeOff : Eye) : part.locked ? Lock : LockOpen"
        :size="14"
        aria-hidden="true"
      />
    </button>
    <MenuButton
      :label="say`More for ${part.name}`"
      :entries="menu()"
      button-class="icon-button no-drag !size-6 !hidden group-hover:!inline-flex group-focus-within:!inline-flex"
    >
      <Ellipsis :size="15" aria-hidden="true" />
    </MenuButton>
  </li>
</template>
