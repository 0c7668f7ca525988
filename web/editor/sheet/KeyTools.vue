<script setup lang="ts">
import { Spline } from '@lucide/vue'
import { computed } from 'vue'
import type { Ease } from '#core/parameters/curves.ts'
import MenuButton, { type MenuEntry } from '../../ui/MenuButton.vue'
import { said, say } from '#core/say.ts'
import { bends } from '../settings/bends.ts'
import type CurveLanes from './CurveLanes.vue'
import { useKeyClip } from './numbers.ts'

/** What is done to the keys of curve lanes: how the span after the chosen one runs, and the timing of all of them. */
const props = defineProps<{ lanes: InstanceType<typeof CurveLanes> | null }>()
const clip = useKeyClip()
const easings: Ease[] = ['straight', 'eased', 'held', 'shaped']
const timing = computed<MenuEntry[]>(() => [
  ...bends.slice(1).map(({ name, bend }) => ({ label: name, run: () => props.lanes?.ease('shaped', bend) })),
  { label: say`Turn the keys around`, run: () => props.lanes?.retime('reverse') },
  { label: say`Stretch to twice the time`, run: () => props.lanes?.retime('twice') },
  { label: say`Squeeze to half the time`, run: () => props.lanes?.retime('half') },
  { label: say`Copy the keys`, run: () => props.lanes?.copy() },
  { label: say`Paste keys from here on`, disabled: !clip.kept, run: () => props.lanes?.paste() },
])
</script>

<template>
  <span class="flex items-center gap-1" role="group" :aria-label="say`How the span after the key runs`">
    <button
      v-for="how in easings"
      :key="how"
      type="button"
      class="button-quiet"
      :class="{ '!bg-selected !text-text': lanes?.shaped?.key.ease === how }"
      :disabled="!lanes?.shaped"
      :aria-pressed="lanes?.shaped?.key.ease === how"
      @click="lanes?.ease(how)"
    >
      {{ said(how) }}
    </button>
    <MenuButton :label="say`More for these keys`" up :entries="timing" button-class="icon-button !size-7"
      ><Spline :size="16" aria-hidden="true"
    /></MenuButton>
  </span>
</template>
