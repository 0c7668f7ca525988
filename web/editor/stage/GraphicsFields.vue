<script setup lang="ts">
import { computed } from 'vue'
import { effectKind } from '#core/effects/catalogue.ts'
import { say } from '#core/say.ts'
import ToggleSwitch from '../../ui/ToggleSwitch.vue'
import { drawsWithGraphics } from '../graphics.ts'
import { useOpenShot } from '../openShot.ts'

/** Whether the graphics card draws what is shown, and what came of it. */
const opened = useOpenShot()
const sentences = {
  off: say`Pictures are drawn without it.`,
  tried: say`It is tried on a small picture first…`,
  on: say`It draws the effects that you see, as far as it can. Files are drawn without it, the same on every machine.`,
  none: say`This browser reaches no graphics card that draws as it should: pictures are drawn without it.`,
  lost: say`The graphics card has stopped: pictures are drawn without it. Switch it off and on to try again.`,
}
const unlike = computed(() => {
  const { graphics } = opened
  return graphics.state === 'on' ? graphics.unproven.map((kind) => effectKind(kind).title).join(', ') : ''
})
</script>

<template>
  <h3 class="heading mt-2 mb-1">{{ say`Graphics card` }}</h3>
  <label class="flex items-center justify-between gap-2 py-1">
    <span>{{ say`Draw effects with it` }}</span>
    <ToggleSwitch v-model="drawsWithGraphics" :aria-label="say`Draw effects with the graphics card`" />
  </label>
  <p
    class="text-s"
    :class="opened.graphics.state === 'lost' || opened.graphics.state === 'none' ? 'text-ember' : 'text-second'"
    data-testid="graphics"
  >
    {{ sentences[opened.graphics.state] }}
    <template v-if="unlike">{{ ' ' + say`It draws differently, and so does not draw: ${unlike}.` }}</template>
  </p>
</template>
