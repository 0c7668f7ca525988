<script setup lang="ts">
import { Ellipsis } from '@lucide/vue'
import { computed, useTemplateRef } from 'vue'
import { VueDraggable } from 'vue-draggable-plus'
import { writeShapes } from '#core/outgoing/shapesFile.ts'
import type { Member, Part } from '#core/records/types.ts'
import type { PartKindName } from '#core/shapes/registry.ts'
import { tracedShare } from '#core/shapes/track.ts'
import { say } from '#core/say.ts'
import { useCast } from '../editor/cast.ts'
import { castColour } from '../editor/castColours.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useViewing } from '../editor/viewing.ts'
import { useProject } from '../project/project.ts'
import EditableName from '../ui/EditableName.vue'
import { saveJson, slugOf } from '../ui/saveFile.ts'
import MenuButton, { type MenuEntry } from '../ui/MenuButton.vue'
import CastPart from './CastPart.vue'
import { alone } from './alone.ts'

/** A member's row in the cast with its parts below; `colouring` while its colour is chosen. */
const props = defineProps<{ member: Member; colouring: boolean }>()
const emit = defineEmits<{ colouring: [now: boolean]; carry: [part: Part] }>()
const project = useProject()
const opened = useOpenShot()
const viewing = useViewing()
const cast = useCast()

const name = useTemplateRef('name')
const parts = computed(() => project.childrenOf('part', props.member.id))
const share = computed(() => {
  const shares = parts.value.map((part) => tracedShare(opened.track(part), opened.length, part.ride !== null))
  return shares.length ? shares.reduce((a, b) => a + b, 0) / shares.length : null
})
/** Whether others are shown alone. */
const faded = computed(
  () =>
    viewing.solo !== '' && viewing.solo !== props.member.id && !parts.value.some((part) => part.id === viewing.solo),
)

const kinds: { kind: PartKindName; label: string }[] = [
  { kind: 'outline', label: say`Add an outline` },
  { kind: 'rod', label: say`Add a rod` },
  { kind: 'oval', label: say`Add an oval` },
  { kind: 'pin', label: say`Add a pin` },
  { kind: 'point', label: say`Add a point` },
]
const menu = (): MenuEntry[] => [
  ...kinds.map(({ kind, label }) => ({ label, run: () => void cast.addPart(props.member, kind) })),
  { label: say`Rename`, run: () => void name.value?.edit() },
  { label: say`Colour`, run: () => emit('colouring', true) },
  alone(viewing, props.member.id),
  { label: say`Duplicate with keys`, run: () => cast.duplicate(props.member) },
  { label: say`Save its shapes as JSON`, run: save },
  { label: say`Delete`, danger: true, run: () => cast.removeAll(props.member) },
]
function save(): void {
  const { width, height, rate } = opened.media!
  const plate = { width, height, rate, frames: opened.length }
  saveJson(writeShapes(project.records()!, [props.member], plate), `${slugOf(props.member.name)}-shapes.json`)
}
function colour(index: number): void {
  emit('colouring', false)
  cast.change(props.member, { colour: index }, say`Colour of ${props.member.name}`)
}
</script>

<template>
  <li>
    <div class="group flex h-7 items-center gap-2 pl-1.5">
      <button
        type="button"
        class="size-3 shrink-0 rounded-full"
        :style="{ background: castColour(member.colour) }"
        :aria-label="say`Colour of ${member.name}`"
        :title="say`Colour`"
        @click="emit('colouring', !colouring)"
      />
      <EditableName
        ref="name"
        class="member-name min-w-0 flex-1 cursor-grab font-semibold"
        :class="{ 'opacity-50': faded }"
        :name="member.name"
        :label="say`Name of the cast member`"
        @rename="cast.change(member, { name: $event }, say`Rename ${member.name}`)"
      />
      <span
        v-if="share !== null"
        class="numbers text-s text-second"
        :title="say`Frames that have a shape or are marked away`"
        >{{ Math.round(share * 100) }}%</span
      >
      <MenuButton
        :label="say`More for ${member.name}`"
        :entries="menu()"
        button-class="icon-button !size-6 opacity-60 group-hover:opacity-100"
      >
        <Ellipsis :size="15" aria-hidden="true" />
      </MenuButton>
    </div>
    <div v-if="colouring" class="flex gap-1.5 px-1.5 py-1" role="group" :aria-label="say`Cast colours`">
      <button
        v-for="i in 8"
        :key="i"
        type="button"
        class="size-5 rounded-full"
        :class="{ 'ring-2 ring-text': member.colour === i - 1 }"
        :style="{ background: castColour(i - 1) }"
        :aria-label="say`Colour ${i}`"
        @click="colour(i - 1)"
      />
    </div>
    <VueDraggable
      :model-value="[...parts]"
      tag="ul"
      group="parts"
      :class="{ 'min-h-2': parts.length === 0 }"
      :animation="120"
      filter="button[data-state], .no-drag"
      :prevent-on-filter="false"
      @add="({ data, newIndex }) => data && cast.moveTo(data, member, newIndex)"
      @update="({ data, newIndex }) => data && newIndex !== undefined && cast.reorder(data, newIndex)"
    >
      <CastPart v-for="part in parts" :key="part.id" :part="part" @carry="emit('carry', part)" />
    </VueDraggable>
  </li>
</template>
