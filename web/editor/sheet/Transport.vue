<script setup lang="ts">
import {
  ChevronFirst,
  ChevronLast,
  ChevronLeft,
  ChevronRight,
  Pause,
  Play,
  Repeat,
  SkipBack,
  SkipForward,
} from '@lucide/vue'
import { computed, ref, watch } from 'vue'
import { timeCode } from '#core/formats/timecode.ts'
import { useBench } from '../bench.ts'
import ChoiceField from '../../ui/ChoiceField.vue'
import IconButton from '../../ui/IconButton.vue'

const bench = useBench()
const typed = ref<string | null>(null)
const rate = computed(() => bench.media?.rate ?? 24)

/** Share of the played range whose pictures are ready as they are looked at. */
const ready = computed(() => {
  void bench.arrived
  void bench.layer
  const [from, to] = [bench.playIn, bench.playOut]
  let count = 0
  for (let f = from; f <= to; f++) if (bench.pictures.isFresh(bench.layer, f)) count++
  return to >= from ? count / (to - from + 1) : 0
})
function take(): void {
  const value = Number(typed.value)
  if (typed.value !== null && typed.value.trim() !== '' && Number.isFinite(value)) bench.go(value)
  typed.value = null
}
watch(
  () => bench.frame,
  () => {
    typed.value = null
  },
)
const sizes = [
  ...[1, 2, 3, 4, 5, 6, 8, 12].map((value) => ({ value, label: `step ${value}` })),
  { value: 0, label: 'by key plan' },
]
</script>

<template>
  <div class="flex h-11 shrink-0 items-center gap-1 border-t bg-panel px-3" role="toolbar" aria-label="Transport">
    <IconButton :icon="ChevronFirst" label="To the start" keys="Home" @click="bench.stepBy(-bench.length)" />
    <IconButton :icon="SkipBack" label="Previous key" keys="Q" @click="bench.jumpToKey(-1)" />
    <IconButton :icon="ChevronLeft" label="Step back" keys="A" @click="bench.stepBy(-1)" />
    <IconButton
      :icon="bench.playing ? Pause : Play"
      :label="bench.playing ? 'Pause' : 'Play'"
      keys="Space"
      @click="bench.togglePlay()"
    />
    <IconButton :icon="ChevronRight" label="Step on" keys="D" @click="bench.stepBy(1)" />
    <IconButton :icon="SkipForward" label="Next key" keys="E" @click="bench.jumpToKey(1)" />
    <IconButton :icon="ChevronLast" label="To the end" keys="End" @click="bench.stepBy(bench.length)" />
    <input
      class="numbers ml-2 h-8 w-14 rounded-[6px] bg-transparent px-1 text-right text-xl font-semibold hover:bg-raised focus:bg-raised"
      aria-label="Frame"
      title="Frame: type a number"
      inputmode="numeric"
      :value="typed ?? bench.frame"
      data-testid="frame"
      @focus="($event.target as HTMLInputElement).select()"
      @input="typed = ($event.target as HTMLInputElement).value"
      @change="take"
      @keydown.enter="($event.target as HTMLInputElement).blur()"
    />
    <span class="numbers text-second">of {{ bench.length }}</span>
    <span class="numbers mx-3 text-second" title="Minutes, seconds, frames">{{ timeCode(bench.frame, rate) }}</span>
    <ChoiceField
      v-model="bench.stepSize"
      bare
      up
      label="Frames that the playhead goes on after a key"
      :options="sizes"
    />
    <IconButton :icon="Repeat" label="Loop" keys="L" :pressed="bench.loop" @click="bench.loop = !bench.loop" />
    <span
      v-if="bench.playIn > 0 || bench.playOut < bench.length - 1"
      class="button-quiet numbers"
      title="Played range: [ and ] set it here"
    >
      {{ bench.playIn }} to {{ bench.playOut }}
      <button
        type="button"
        class="rounded px-1 hover:text-text"
        aria-label="Play all again"
        @click="((bench.playIn = 0), (bench.playOut = bench.length - 1))"
      >
        ×
      </button>
    </span>
    <span class="flex-1" />
    <slot />
    <span
      class="flex items-center gap-2 pl-2"
      :title="`${Math.round(ready * 100)} % of the frames are ready to play at the true rate`"
    >
      <span class="text-second">ready</span>
      <span
        class="h-1.5 w-28 overflow-hidden rounded-full bg-selected"
        role="progressbar"
        aria-label="Frames ready"
        :aria-valuenow="Math.round(ready * 100)"
        aria-valuemin="0"
        aria-valuemax="100"
      >
        <span class="block h-full rounded-full bg-[#7fa86a]" :style="{ width: `${ready * 100}%` }" />
      </span>
      <span class="numbers w-16 text-right text-second">{{ Number(rate.toFixed(2)) }} fps</span>
    </span>
  </div>
</template>
