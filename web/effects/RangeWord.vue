<script setup lang="ts">
import { computed } from 'vue'
import { still } from '#core/parameters/builders.ts'
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
const frames = (label: string, name: keyof Range, hint: string) => ({
  name,
  of: still(label, 'frames', [0, opened.length - 1, 1], whole.value[name], hint),
})
const numbers = computed(() => [
  frames('From', 'from', 'First frame.'),
  frames('To', 'to', 'Last frame.'),
  frames('Fade in', 'fadeIn', 'Frames until it is fully there.'),
  frames('Fade out', 'fadeOut', 'Frames in which it goes.'),
])
</script>

<template>
  <PopWord label="Frames of the effect">
    <template #phrase>
      <span class="word">{{ effect.range ? `frames ${range.from} to ${range.to}` : 'on all frames' }}</span>
    </template>
    <NumberField
      :of="one.of"
      v-for="one in numbers"
      :key="one.name"
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
