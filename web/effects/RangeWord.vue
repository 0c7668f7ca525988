<script setup lang="ts">
import { computed } from 'vue'
import type { Effect } from '#core/records/types.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import NumberField from '../ui/NumberField.vue'
import PopWord from '../ui/PopWord.vue'
import { useEffects } from './effects.ts'

/** On which frames an effect is there, as a phrase. */
const props = defineProps<{ effect: Effect }>()
const opened = useOpenShot()
const playback = usePlayback()
const effects = useEffects()

type Range = NonNullable<Effect['range']>
const whole = computed<Range>(() => ({ from: 0, to: opened.length - 1, fadeIn: 0, fadeOut: 0 }))
const range = computed(() => props.effect.range ?? whole.value)
function change(fields: Partial<Range> | null): void {
  const next = fields && { ...range.value, ...fields }
  // The other end gives way: a range never ends before it begins.
  if (next && fields.from !== undefined) next.to = Math.max(next.to, next.from)
  if (next && fields.to !== undefined) next.from = Math.min(next.from, next.to)
  effects.change(props.effect, { range: next }, 'Choose the frames of an effect', `range ${props.effect.id}`)
}
const numbers = [
  { name: 'from', label: 'From', hint: 'First frame.' },
  { name: 'to', label: 'To', hint: 'Last frame.' },
  { name: 'fadeIn', label: 'Fade in', hint: 'Frames until it is fully there.' },
  { name: 'fadeOut', label: 'Fade out', hint: 'Frames in which it goes.' },
] as const
</script>

<template>
  <PopWord label="Frames of the effect">
    <template #phrase>
      <span class="word">{{ effect.range ? `frames ${range.from} to ${range.to}` : 'on all frames' }}</span>
    </template>
    <NumberField
      v-for="one in numbers"
      :key="one.name"
      :label="one.label"
      :hint="one.hint"
      unit="frames"
      :min="0"
      :max="opened.length - 1"
      :step="1"
      :standard="whole[one.name]"
      :model-value="range[one.name]"
      @update:model-value="change({ [one.name]: $event })"
    />
    <div class="flex gap-1">
      <button type="button" class="button-quiet" @click="change({ from: playback.frame })">from here</button>
      <button type="button" class="button-quiet" @click="change({ to: playback.frame })">to here</button>
      <button v-if="effect.range" type="button" class="button-quiet" @click="change(null)">all frames</button>
    </div>
  </PopWord>
</template>
