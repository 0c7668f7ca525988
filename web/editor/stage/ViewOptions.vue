<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { SlidersHorizontal } from '@lucide/vue'
import { about, still } from '#core/parameters/builders.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import NumberField from '../../ui/NumberField.vue'
import { useViewing } from '../viewing.ts'
import { qualities } from './view.ts'

/** How neighbouring shapes are shown, and the brightness of the view alone. */
const viewing = useViewing()
const ways = [
  { value: 'keys' as const, label: 'keys' },
  { value: 'frames' as const, label: 'frames' },
]
const count = still('Each side', '', [1, 5, 1], 1, 'How many neighbours are shown before and after.')
const strength = still('Strength', '%', [0.1, 1, 0.05], 0.5, 'How strongly neighbours are shown.')
const brightness = about(1, still('Brightness', '%', [0.25, 4, 0.05], 1, 'Of what you see only: for dark footage.'))
const contrast = about(1, still('Contrast', '%', [0.5, 3, 0.05], 1, 'Of what you see only.'))
</script>

<template>
  <Popover class="relative">
    <PopoverButton
      class="icon-button"
      :class="{ 'text-ember': viewing.brightness !== 1 || viewing.contrast !== 1 || viewing.reduce > 1 }"
      aria-label="How the view is shown"
      title="Neighbouring shapes, brightness of the view"
    >
      <SlidersHorizontal :size="18" :stroke-width="1.75" aria-hidden="true" />
    </PopoverButton>
    <PopoverPanel class="menu absolute top-full right-0 mt-1 w-72 !p-3">
      <h3 class="heading mb-1">Neighbouring shapes</h3>
      <ChoiceField v-model="viewing.onions.by" label="Of" :options="ways" />
      <NumberField :of="count" v-model="viewing.onions.count" />
      <NumberField :of="strength" v-model="viewing.onions.strength" />
      <h3 class="heading mt-2 mb-1">The view alone</h3>
      <ChoiceField v-model="viewing.reduce" label="Pictures at" :options="qualities" />
      <NumberField :of="brightness" v-model="viewing.brightness" />
      <NumberField :of="contrast" v-model="viewing.contrast" />
    </PopoverPanel>
  </Popover>
</template>
