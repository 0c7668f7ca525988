<script setup lang="ts">
import { Plus } from '@lucide/vue'
import { useTemplateRef } from 'vue'
import ShortcutSheet from '../editor/ShortcutSheet.vue'
import Transport from '../editor/sheet/Transport.vue'
import LookBar from '../editor/stage/LookBar.vue'
import Stage from '../editor/stage/Stage.vue'
import { useViewing, type ViewMode } from '../editor/viewing.ts'
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
  /** Pixels that the lanes are high. */
  lanesHeight: number
}>()
const emit = defineEmits<{ add: [] }>()
const viewing = useViewing()
const stage = useTemplateRef('stage')
const { sheet } = useBenchKeys({
  fit: () => stage.value?.fit(),
  leave: () => {},
  removeChosen: () => props.removeChosen(),
  looks: props.looks.map((look) => look.value),
})
</script>

<template>
  <main class="relative flex min-h-0 flex-1 flex-col">
    <div class="flex min-h-0 flex-1">
      <aside
        v-if="!viewing.quiet"
        class="scroll-thin flex w-[290px] shrink-0 flex-col overflow-y-auto border-r bg-panel"
        :aria-label="name"
      >
        <header class="flex h-9 shrink-0 items-center justify-between pr-2 pl-3">
          <h2 class="heading">{{ heading }}</h2>
          <button type="button" class="button-quiet text-wisp" :aria-label="add" @click="emit('add')">
            <Plus :size="15" aria-hidden="true" /> add
          </button>
        </header>
        <div class="flex flex-col gap-2 px-2 pb-40"><slot name="cards" /></div>
      </aside>
      <div class="flex min-w-0 flex-1 flex-col">
        <LookBar
          v-if="!viewing.quiet"
          light
          :looks="looks"
          :zoom="stage?.view.k ?? 1"
          @fit="stage?.fit()"
          @zoom="stage?.zoomTo($event)"
          @sheet="sheet = true"
        />
        <Stage ref="stage"><slot name="picture" /></Stage>
      </div>
      <aside v-if="!viewing.quiet" class="flex w-[284px] shrink-0 flex-col border-l bg-panel">
        <div class="scroll-thin min-h-0 flex-1 overflow-y-auto pb-3"><slot name="settings" /></div>
        <slot name="meters" />
      </aside>
    </div>
    <Transport v-if="!viewing.quiet"><slot name="tools" /></Transport>
    <div v-if="!viewing.quiet" class="flex shrink-0 flex-col border-t bg-panel" :style="{ height: `${lanesHeight}px` }">
      <slot name="lanes" />
    </div>
    <slot />
    <ShortcutSheet v-model="sheet" />
  </main>
</template>
