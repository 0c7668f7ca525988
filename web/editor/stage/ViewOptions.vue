<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { MonitorUp, SlidersHorizontal } from '@lucide/vue'
import { about, still } from '#core/parameters/builders.ts'
import { say } from '#core/say.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import { useViewing } from '../viewing.ts'
import GraphicsFields from './GraphicsFields.vue'
import MemoryFields from './MemoryFields.vue'
import { keysOf } from '../shortcuts.ts'
import { secondCanvas, toggleSecondWindow } from './secondWindow.ts'
import { qualities } from './view.ts'

/** How neighbouring shapes are shown, the brightness of the view alone, and the picture in another window. */
defineProps<{ shapes: boolean }>()
const viewing = useViewing()
const ways = [
  { value: 'keys' as const, label: say`keys` },
  { value: 'frames' as const, label: say`frames` },
]
const count = still(say`Each side`, '', [1, 5, 1], 1, say`How many neighbours are shown before and after.`)
const strength = still(say`Strength`, '%', [0.1, 1, 0.05], 0.5, say`How strongly neighbours are shown.`)
const brightness = about(
  1,
  still(say`Brightness`, '%', [0.25, 4, 0.05], 1, say`Of what you see only: for dark footage.`),
)
const contrast = about(1, still(say`Contrast`, '%', [0.5, 3, 0.05], 1, say`Of what you see only.`))
</script>

<template>
  <Popover class="relative">
    <PopoverButton
      class="icon-button"
      :class="{
        'text-ember':
          viewing.brightness !== 1 ||
          viewing.contrast !== 1 ||
          (shapes && viewing.quality !== 'hand' && viewing.quality > 1),
      }"
      :aria-label="say`How the view is shown`"
      :title="say`Brightness of the view, a second window`"
    >
      <SlidersHorizontal :size="18" :stroke-width="1.75" aria-hidden="true" />
    </PopoverButton>
    <PopoverPanel class="menu absolute top-full right-0 mt-1 w-72 !p-3">
      <template v-if="shapes">
        <h3 class="heading mb-1">{{ say`Neighbouring shapes` }}</h3>
        <ChoiceField v-model="viewing.onions.by" :label="say`Of`" :options="ways" />
        <NumberField :of="count" v-model="viewing.onions.count" />
        <NumberField :of="strength" v-model="viewing.onions.strength" />
      </template>
      <h3 class="heading mb-1" :class="{ 'mt-2': shapes }">{{ say`The view alone` }}</h3>
      <ChoiceField v-if="shapes" v-model="viewing.quality" :label="say`Pictures at`" :options="qualities" />
      <NumberField :of="brightness" v-model="viewing.brightness" />
      <NumberField :of="contrast" v-model="viewing.contrast" />
      <MemoryFields />
      <GraphicsFields />
      <button type="button" class="button mt-2 w-full" @click="toggleSecondWindow()">
        <MonitorUp :size="16" aria-hidden="true" />
        {{ secondCanvas() ? say`Close the second window` : say`Open in a second window` }}
        <kbd v-for="key in keysOf('second')[0] ?? []" :key="key" class="key ml-1">{{ key }}</kbd>
      </button>
    </PopoverPanel>
  </Popover>
</template>
