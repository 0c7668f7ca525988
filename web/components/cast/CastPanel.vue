<script setup lang="ts">
import { Ellipsis, Plus } from '@lucide/vue'
import { computed, ref } from 'vue'
import type { Member, Part } from '#core/model/records.ts'
import { tracedShare } from '#core/shapes/track.ts'
import { castColour } from '../../castColours.ts'
import { useBench } from '../../stores/bench.ts'
import { useProject } from '../../stores/project.ts'
import { kindOf, useTracing } from '../../stores/tracing.ts'
import EditableName from '../common/EditableName.vue'
import MenuButton, { type MenuEntry } from '../common/MenuButton.vue'

const project = useProject()
const bench = useBench()
const tracing = useTracing()

const names = new Map<string, InstanceType<typeof EditableName>>()
const remember = (id: string) => (field: unknown) =>
  void (field && names.set(id, field as InstanceType<typeof EditableName>))
const palette = ref<string | null>(null)

const cast = computed(() =>
  bench.members.map((member) => {
    const parts = project.childrenOf('part', member.id)
    const shares = parts.map((part) => tracedShare(bench.track(part), bench.length))
    return { member, parts, share: shares.length ? shares.reduce((a, b) => a + b, 0) / shares.length : null }
  }),
)

const additions: MenuEntry[] = [
  { label: 'Prop, traced as a rod', run: () => tracing.addMember('prop', 'Prop', 'rod', 'shaft') },
  { label: 'Performer, head as an oval', run: () => tracing.addMember('performer', 'Performer', 'oval', 'head') },
  { label: 'Hand, as an oval', run: () => tracing.addMember('hand', 'Hand', 'oval', 'hand') },
  { label: 'Eye, as an oval', run: () => tracing.addMember('eye', 'Eye', 'oval', 'lid') },
  { label: 'Something else, as an oval', run: () => tracing.addMember('other', 'Thing', 'oval', 'body') },
]
const memberMenu = (member: Member): MenuEntry[] => [
  { label: 'Add a rod', run: () => tracing.addPart(member, 'rod') },
  { label: 'Add an oval', run: () => tracing.addPart(member, 'oval') },
  { label: 'Rename', run: () => void names.get(member.id)?.edit() },
  { label: 'Colour', run: () => void (palette.value = member.id) },
  { label: 'Delete', danger: true, run: () => tracing.removeMember(member) },
]
const partMenu = (part: Part): MenuEntry[] => [
  { label: 'Rename', run: () => void names.get(part.id)?.edit() },
  { label: 'Delete', danger: true, run: () => tracing.removePart(part) },
]
function colour(member: Member, index: number): void {
  palette.value = null
  tracing.change(member, { colour: index }, `Colour of ${member.name}`)
}
</script>

<template>
  <section aria-label="Cast" class="flex flex-col">
    <header class="flex h-9 items-center justify-between pr-2 pl-3">
      <h2 class="heading">Cast</h2>
      <MenuButton label="Add to the cast" :entries="additions" button-class="button-quiet text-wisp">
        <Plus :size="15" aria-hidden="true" /> add
      </MenuButton>
    </header>
    <ul class="flex flex-col gap-1 px-2">
      <li v-for="{ member, parts, share } in cast" :key="member.id">
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
            class="min-w-0 flex-1 font-semibold"
            :name="member.name"
            label="Name of the cast member"
            @rename="tracing.change(member, { name: $event }, `Rename ${member.name}`)"
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
        <ul>
          <li
            v-for="part in parts"
            :key="part.id"
            class="group flex h-7 items-center rounded-[6px] pr-0 pl-6"
            :class="part.id === bench.partId ? 'bg-selected' : 'hover:bg-raised'"
          >
            <button
              type="button"
              class="flex min-w-0 flex-1 items-center gap-2 self-stretch text-left"
              :aria-pressed="part.id === bench.partId"
              @click="tracing.choosePart(part)"
            >
              <EditableName
                :ref="remember(part.id)"
                class="min-w-0 flex-1"
                :class="part.id === bench.partId ? 'text-text' : 'text-second'"
                :name="part.name"
                label="Name of the part"
                @rename="tracing.change(part, { name: $event }, `Rename ${part.name}`)"
              />
              <span class="text-s text-third">{{ kindOf(part).title.toLowerCase() }}</span>
            </button>
            <MenuButton
              :label="`More for ${part.name}`"
              :entries="partMenu(part)"
              button-class="icon-button !size-6 opacity-0 group-hover:opacity-100 focus:opacity-100"
            >
              <Ellipsis :size="15" aria-hidden="true" />
            </MenuButton>
          </li>
        </ul>
      </li>
    </ul>
    <p v-if="cast.length === 0" class="px-3 py-2 text-second">
      Nobody is cast yet. Take the rod and click the heel and the tip of a prop, or add someone here.
    </p>
  </section>
</template>
