<script setup lang="ts">
import { computed } from 'vue'
import { still } from '#core/parameters/builders.ts'
import type { FrameRange } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import NumberField from '../../ui/NumberField.vue'
import PopWord from '../../ui/PopWord.vue'
import { useOpenShot } from '../openShot.ts'
import { usePlayback } from '../playback.ts'

/** On which frames something is there, as a phrase. `of`: what it is, for the label; `whole`: how all frames are said. */
const props = defineProps<{ range: FrameRange | null; of: string; whole?: string }>()
const emit = defineEmits<{ change: [range: FrameRange | null] }>()
const opened = useOpenShot()
const playback = usePlayback()

const all = computed<FrameRange>(() => ({ from: 0, to: opened.length - 1, fadeIn: 0, fadeOut: 0 }))
const now = computed(() => props.range ?? all.value)
function change(fields: Partial<FrameRange> | null): void {
  const next = fields && { ...now.value, ...fields }
  // The other end gives way: a range never ends before it begins.
  if (next && fields.from !== undefined) next.to = Math.max(next.to, next.from)
  if (next && fields.to !== undefined) next.from = Math.min(next.from, next.to)
  emit('change', next)
}
const frames = (label: string, name: keyof FrameRange, hint: string) => ({
  name,
  of: still(label, 'frames', [0, opened.length - 1, 1], all.value[name], hint),
})
const numbers = computed(() => [
  frames(say`From`, 'from', say`First frame.`),
  frames(say`To`, 'to', say`Last frame.`),
  frames(say`Fade in`, 'fadeIn', say`Frames until it is fully there.`),
  frames(say`Fade out`, 'fadeOut', say`Frames in which it goes.`),
])
</script>

<template>
  <PopWord :label="say`Frames of the ${of}`">
    <template #phrase>
      <span class="word">{{ range ? say`frames ${range.from} to ${range.to}` : (whole ?? say`on all frames`) }}</span>
    </template>
    <NumberField
      :of="one.of"
      v-for="one in numbers"
      :key="one.name"
      :model-value="now[one.name]"
      @update:model-value="change({ [one.name]: $event })"
    />
    <div class="flex gap-1">
      <button type="button" class="button-quiet" @click="change({ from: playback.frame })">{{ say`from here` }}</button>
      <button type="button" class="button-quiet" @click="change({ to: playback.frame })">{{ say`to here` }}</button>
      <button v-if="range" type="button" class="button-quiet" @click="change(null)">{{ say`all frames` }}</button>
    </div>
  </PopWord>
</template>
