<script setup lang="ts">
import { Plus } from '@lucide/vue'
import { useTemplateRef } from 'vue'
import { say } from '#core/say.ts'
import BenchLayout from '../editor/BenchLayout.vue'
import Transport from '../editor/sheet/Transport.vue'
import LookBar from '../editor/stage/LookBar.vue'
import Stage from '../editor/stage/Stage.vue'
import type { ViewMode } from '../editor/viewing.ts'
import { useBenchKeys } from './editorKeys.ts'

/** The bench of a step that works with cards: they stand on the left, the picture in the middle, settings on the right, lanes below. */
const props = defineProps<{
  /** What the cards are called together, what stands above them, and what adds one. */
  name: string
  heading: string
  add: string
  looks: { value: ViewMode; label: string }[]
  /** Takes away what is chosen in the lanes. */
  removeChosen: () => void
  /** Whether there is anything to set. */
  chosen: boolean
  /** Px that the lanes need, and how many of them they take by themselves at most. */
  lanesHeight: number
  lanesMost: number
}>()
const emit = defineEmits<{ add: [] }>()
const stage = useTemplateRef('stage')
useBenchKeys({
  fit: () => stage.value?.fit(),
  leave: () => {},
  removeChosen: () => props.removeChosen(),
  looks: props.looks.map((look) => look.value),
})
</script>

<template>
  <BenchLayout
    :step="name"
    :left="name"
    :right="say`Settings: ${name}`"
    :left-width="270"
    :right-width="284"
    :chosen="chosen"
    :lanes="lanesHeight"
    :lanes-most="lanesMost"
  >
    <template #left>
      <header class="flex h-9 shrink-0 items-center justify-between pr-2 pl-3">
        <h2 class="heading">{{ heading }}</h2>
        <button type="button" class="button-quiet text-wisp" :aria-label="add" @click="emit('add')">
          <Plus :size="15" aria-hidden="true" /> {{ say`add` }}
        </button>
      </header>
      <div class="scroll-thin min-h-0 flex-1 overflow-y-auto">
        <div class="flex flex-col gap-1.5 px-2 pb-40"><slot name="cards" /></div>
      </div>
    </template>
    <template #bar>
      <LookBar light :looks="looks" :zoom="stage?.view.k ?? 1" @fit="stage?.fit()" @zoom="stage?.zoomTo($event)" />
    </template>
    <template #picture
      ><Stage ref="stage"><slot name="picture" /></Stage
    ></template>
    <template #right>
      <div class="scroll-thin min-h-0 flex-1 overflow-y-auto pb-3"><slot name="settings" /></div>
      <slot name="meters" />
    </template>
    <template #transport
      ><Transport><slot name="tools" /></Transport
    ></template>
    <template #lanes><slot name="lanes" /></template>
    <slot />
  </BenchLayout>
</template>
