<script setup lang="ts">
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { SlidersHorizontal } from '@lucide/vue'
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
      <NumberField v-model="viewing.onions.count" label="Each side" unit="" :min="1" :max="5" :step="1" :standard="1" />
      <NumberField
        v-model="viewing.onions.strength"
        label="Strength"
        unit="%"
        :min="0.1"
        :max="1"
        :step="0.05"
        :standard="0.5"
      />
      <h3 class="heading mt-2 mb-1">The view alone</h3>
      <ChoiceField v-model="viewing.reduce" label="Pictures at" :options="qualities" />
      <NumberField
        v-model="viewing.brightness"
        label="Brightness"
        hint="Of what you see only: for dark footage."
        unit="%"
        :min="0.25"
        :max="4"
        :step="0.05"
        :standard="1"
      />
      <NumberField
        v-model="viewing.contrast"
        label="Contrast"
        hint="Of what you see only."
        unit="%"
        :min="0.5"
        :max="3"
        :step="0.05"
        :standard="1"
      />
    </PopoverPanel>
  </Popover>
</template>
